import { FLAT_CASE, sourceCases, type Source } from '@yield/core';
import type { JSX } from 'react';
import { newId } from '../../chain/chainFields.ts';
import { useEditChain } from '../../tune/useEdit.ts';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { Dialog } from '../../ui/Dialog.tsx';
import type { FieldSpec } from '../../ui/forms/fields.ts';
import { RecordForm } from '../../ui/forms/RecordForm.tsx';

const FIELDS: FieldSpec<Pick<Source, 'cases'>>[] = [
  {
    kind: 'list',
    name: 'cases',
    label: 'Ways its owner may set the source, besides flat',
    hint: 'Those that are likely to be used decide the working volume; the others are only to know',
    itemName: 'case',
    fields: [
      { kind: 'text', name: 'name', label: 'Case' },
      {
        kind: 'choice',
        name: 'used',
        label: 'Likely to be used',
        as: 'boolean',
        choices: [
          { value: 'true', label: 'Yes' },
          { value: 'false', label: 'No, only to know' },
        ],
      },
      {
        kind: 'choice',
        name: 'bassRaised',
        label: 'Bass, loudness or boost up',
        as: 'boolean',
        choices: [
          { value: 'false', label: 'No' },
          { value: 'true', label: 'Yes' },
        ],
      },
      { kind: 'integer', name: 'subNotches', label: 'Sub level up by notches', optional: true },
    ],
    blank: () => ({ id: newId(), name: 'Sub level raised', used: true, bassRaised: false }),
  },
];

/** The settings cases of a source. Flat is always one of them. */
export function CasesDialog({ run, onClose }: { run: TuneRun; onClose: () => void }): JSX.Element {
  const { chain, id } = run.tune;
  const { edit } = useEditChain(run.tune);
  const cases = sourceCases(chain.body.source);
  const flat = cases.find((c) => c.id === FLAT_CASE.id) ?? FLAT_CASE;
  return (
    <Dialog title="Settings cases" onClose={onClose} wide>
      <RecordForm
        draftKey={`cases/${id}/${chain.version}`}
        fields={FIELDS}
        value={{ cases: cases.filter((c) => c.id !== FLAT_CASE.id).map((c) => ({ bassRaised: false, ...c })) }}
        submitLabel="Save"
        onSubmit={async ({ cases: entered = [] }) => {
          const others = entered.map(({ bassRaised, ...rest }) => (bassRaised === true ? { ...rest, bassRaised } : rest));
          const faults = await edit({ ...chain.body, source: { ...chain.body.source, cases: [flat, ...others] } }, { onSaved: onClose });
          return faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/source/, '') }));
        }}
      />
    </Dialog>
  );
}
