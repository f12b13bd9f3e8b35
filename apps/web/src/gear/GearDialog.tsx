import type { GearRow, SaveGear } from '@yield/contract';
import { GEAR_NAMES, type Amplifier, type Driver, type Fault, type GearKind, type Processor, type Source } from '@yield/core';
import { Trash2 } from 'lucide-react';
import { useState, type JSX } from 'react';
import { problemWords } from '../api/problem.ts';
import { useRemoveGearMutation, useSaveGearMutation } from '../api/yieldApi.ts';
import { AMPLIFIER_FIELDS, DRIVER_FIELDS, newId, PROCESSOR_FIELDS, SOURCE_FIELDS } from '../chain/chainFields.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import type { FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';

/** What is edited: a piece of gear, or a new one of a kind. */
export type EditedGear = GearRow | { kind: GearKind };

const KINDS = (Object.entries(GEAR_NAMES) as [GearKind, string][]).map(([value, label]) => ({ value, label }));
const BLANK: { [K in GearKind]: object } = {
  source: { volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed', isFactory: false },
  processor: {
    outputVolt: 4,
    hasClipLight: false,
    inputs: [{ id: 'in-1', name: 'In', output: 'preamp-front' }],
    outputs: [{ id: 'out-1', name: 'Out 1' }],
  },
  amplifier: { ratings: [] },
  driver: { coils: 1, coilOhm: 4 },
};

/** Gear as the library keeps it: no tune changes with it. */
export function GearDialog({ gear, onClose }: { gear: EditedGear; onClose: () => void }): JSX.Element {
  const isKnown = 'id' in gear;
  const [kind, setKind] = useState(gear.kind);
  const [save] = useSaveGearMutation();
  const [remove] = useRemoveGearMutation();
  const version = isKnown ? gear.version : 0;
  const form = <T extends object>(fields: FieldSpec<T>[], of: GearKind): JSX.Element => (
    <RecordForm<T>
      key={of}
      draftKey={`gear/${isKnown ? gear.id : of}`}
      fields={fields}
      value={isKnown ? gear.body : BLANK[of]}
      submitLabel={version > 0 ? 'Change it' : 'Put it into the library'}
      onSubmit={async (record): Promise<Fault[]> => {
        const own = of === 'amplifier' || of === 'driver' ? { id: newId() } : {};
        const body = { version, kind: of, body: { ...own, ...record } } as unknown as SaveGear;
        const result = await save({ id: version > 0 && isKnown ? gear.id : crypto.randomUUID(), body });
        if (result.error === undefined) {
          onClose();
          return [];
        }
        const { faults, text } = problemWords(result.error);
        return faults.length > 0
          ? faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/body/, '') }))
          : [{ pointer: '', message: text }];
      }}
    />
  );
  return (
    <Dialog title={isKnown ? gear.name : 'New gear'} onClose={onClose} wide>
      <p className="text-quiet mb-4">What changes here changes no tune: a tune keeps the figures that it was made with.</p>
      {!isKnown && (
        <div className="mb-4">
          <ChoiceField label="Kind" value={kind} choices={KINDS} onChange={setKind} />
        </div>
      )}
      {kind === 'source' && form<Source>(SOURCE_FIELDS, 'source')}
      {kind === 'processor' && form<Processor>(PROCESSOR_FIELDS, 'processor')}
      {kind === 'amplifier' && form<Amplifier>(AMPLIFIER_FIELDS, 'amplifier')}
      {kind === 'driver' && form<Driver>(DRIVER_FIELDS, 'driver')}
      {version > 0 && isKnown && (
        <button
          type="button"
          className="btn btn-ghost btn-tall mt-3"
          onClick={() => {
            void remove(gear.id);
            onClose();
          }}
        >
          <Trash2 size={18} aria-hidden /> Take it out of the library
        </button>
      )}
    </Dialog>
  );
}
