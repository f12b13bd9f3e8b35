import { FLAT_CASE, sourceCases, type SettingsCase } from '@yield/core';
import type { JSX } from 'react';
import { problemWords } from '../api/problem.ts';
import { useSaveChainMutation } from '../api/yieldApi.ts';
import { newId } from '../chain/chainFields.ts';
import type { TuneRun } from '../run/useTuneRun.ts';
import { Dialog } from '../ui/Dialog.tsx';
import type { FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';

const FIELDS: FieldSpec[] = [
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
  const [saveChain] = useSaveChainMutation();
  const cases = sourceCases(chain.body.source);
  const flat = cases.find((c) => c.id === FLAT_CASE.id) ?? FLAT_CASE;
  return (
    <Dialog title="Settings cases" onClose={onClose} wide>
      <RecordForm
        draftKey={`cases/${id}/${chain.version}`}
        fields={FIELDS}
        value={{ cases: cases.filter((c) => c.id !== FLAT_CASE.id).map((c) => ({ bassRaised: false, ...c })) }}
        submitLabel="Save"
        onSubmit={async (record) => {
          const others = (record.cases as SettingsCase[]).map(({ bassRaised, ...rest }) =>
            bassRaised === true ? { ...rest, bassRaised } : rest,
          );
          const source = { ...chain.body.source, cases: [flat, ...others] };
          const result = await saveChain({ id, body: { version: chain.version, chain: { ...chain.body, source } } });
          if (result.error === undefined) {
            onClose();
            return [];
          }
          return [{ pointer: '', message: problemWords(result.error).text }];
        }}
      />
    </Dialog>
  );
}
