import type { GearRow, SaveGear } from '@yield/contract';
import {
  GEAR_NAMES,
  type Amplifier,
  type Driver,
  type Fault,
  type GearKind,
  type NamedMeter,
  type NamedMicrophone,
  type Processor,
  type Source,
} from '@yield/core';
import { Trash2 } from 'lucide-react';
import { useState, type JSX } from 'react';
import { newUuid } from '../api/newId.ts';
import { problemWords } from '../api/problem.ts';
import { useRemoveGearMutation, useSaveGearMutation } from '../api/yieldApi.ts';
import { AMPLIFIER_FIELDS, DRIVER_FIELDS, newId, PROCESSOR_FIELDS, SOURCE_FIELDS } from '../chain/chainFields.ts';
import { DialForm, newDial } from '../instruments/DialForm.tsx';
import { CurveText } from '../ui/forms/CurveText.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { EQUALISER_FIELDS, equaliserForm, equaliserOf, NAMED_METER_FIELDS, type EqualiserForm } from './instrumentFields.ts';
import { Dialog } from '../ui/Dialog.tsx';
import type { FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';

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
  meter: { trueRms: true },
  microphone: {},
  dial: {},
  equaliser: { kind: 'parametric', bands: 5 },
};

/** Gear as the library keeps it: no tune changes with it. */
export function GearDialog({ gear, onClose }: { gear: EditedGear; onClose: () => void }): JSX.Element {
  const isKnown = 'id' in gear;
  const [kind, setKind] = useState(gear.kind);
  const [fault, setFault] = useState<string>();
  const [save] = useSaveGearMutation();
  const [remove] = useRemoveGearMutation();
  const version = isKnown ? gear.version : 0;
  const store = async (of: GearKind, body: object): Promise<Fault[]> => {
    const saved = { version, kind: of, body } as unknown as SaveGear;
    const result = await save({ id: version > 0 && isKnown ? gear.id : newUuid(), body: saved });
    if (result.error === undefined) {
      onClose();
      return [];
    }
    const { faults, text } = problemWords(result.error);
    return faults.length > 0
      ? faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/body/, '') }))
      : [{ pointer: '', message: text }];
  };
  const submitLabel = version > 0 ? 'Change it' : 'Put it into the library';
  const draftOf = (of: GearKind): string => `gear/${isKnown ? gear.id : of}`;
  const form = <T extends object>(fields: FieldSpec<T>[], of: GearKind): JSX.Element => (
    <RecordForm<T>
      key={of}
      draftKey={draftOf(of)}
      fields={fields}
      value={isKnown ? gear.body : BLANK[of]}
      submitLabel={submitLabel}
      onSubmit={(record) => store(of, { ...(of === 'amplifier' || of === 'driver' ? { id: newId() } : {}), ...record })}
    />
  );
  return (
    <Dialog title={isKnown ? gear.name : 'New gear'} onClose={onClose} wide>
      <p className="text-quiet mb-4">What changes here changes no tune: a tune keeps the figures that it was made with.</p>
      {!isKnown && (
        <div className="mb-4">
          <label className="block w-fit">
            <span className="label mb-1 block">Kind</span>
            <select className="select min-h-11 w-56" value={kind} onChange={(event) => setKind(event.target.value as GearKind)}>
              {KINDS.map(({ value, label }) => (
                <option key={value} value={value}>
                  {label}
                </option>
              ))}
            </select>
          </label>
        </div>
      )}
      {kind === 'source' && form<Source>(SOURCE_FIELDS, 'source')}
      {kind === 'processor' && form<Processor>(PROCESSOR_FIELDS, 'processor')}
      {kind === 'amplifier' && form<Amplifier>(AMPLIFIER_FIELDS, 'amplifier')}
      {kind === 'driver' && form<Driver>(DRIVER_FIELDS, 'driver')}
      {kind === 'meter' && form<NamedMeter>(NAMED_METER_FIELDS, 'meter')}
      {kind === 'microphone' && (
        <MicrophoneForm
          draftKey={draftOf('microphone')}
          microphone={isKnown && gear.kind === 'microphone' ? gear.body : { name: '' }}
          submitLabel={submitLabel}
          onSave={(body) => store('microphone', body)}
        />
      )}
      {kind === 'dial' && (
        <DialForm
          dial={isKnown && gear.kind === 'dial' ? gear.body : newDial()}
          draftKey={draftOf('dial')}
          onCancel={onClose}
          onSave={(dial) => void store('dial', dial).then((found) => setFault(found[0]?.message))}
        />
      )}
      {kind === 'equaliser' && (
        <RecordForm<EqualiserForm>
          draftKey={draftOf('equaliser')}
          fields={EQUALISER_FIELDS}
          value={isKnown && gear.kind === 'equaliser' ? equaliserForm(gear.body) : BLANK.equaliser}
          submitLabel={submitLabel}
          onSubmit={async (record) => {
            const made = equaliserOf(record, isKnown && gear.kind === 'equaliser' ? gear.body.equaliser : undefined);
            return 'faults' in made ? made.faults : store('equaliser', { name: record.name, ...made });
          }}
        />
      )}
      {fault !== undefined && (
        <div className="mt-3">
          <ErrorNotice>{fault}</ErrorNotice>
        </div>
      )}
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

/** A name, and what its calibration says. */
function MicrophoneForm({
  draftKey,
  microphone,
  submitLabel,
  onSave,
}: {
  draftKey: string;
  microphone: NamedMicrophone;
  submitLabel: string;
  onSave: (microphone: NamedMicrophone) => Promise<Fault[]>;
}): JSX.Element {
  const [name, setName] = useDraft(`${draftKey}/name`, microphone.name);
  return (
    <div className="space-y-4">
      <label className="block">
        <span className="label mb-1 block">Microphone</span>
        <input className="input min-h-11 w-full max-w-xl" value={name} maxLength={120} onChange={(event) => setName(event.target.value)} />
      </label>
      <CurveText
        draftKey={`${draftKey}/curve`}
        label="Its calibration: frequency and decibels in each line"
        value={microphone.calibration}
        placeholder={'20  -1.2\n1000  0\n16000  2.1'}
        submitLabel={submitLabel}
        canBeSame={name.trim() !== ''}
        onSubmit={async (calibration) => {
          if (name.trim() === '') return [{ pointer: '', message: 'Give it a name.' }];
          const found = await onSave({ name: name.trim(), ...(calibration === undefined ? {} : { calibration }) });
          if (found.length === 0) setName(null);
          return found;
        }}
      />
    </div>
  );
}
