import type { TuneDetail } from '@yield/contract';
import type { HouseRules, Meter } from '@yield/core';
import { useState, type JSX } from 'react';
import { useParams } from 'react-router';
import { problemWords } from '../api/problem.ts';
import { useReadTuneQuery, useSaveTuneMutation } from '../api/yieldApi.ts';
import type { FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { Loading } from '../ui/Loading.tsx';
import { StaleSaveDialog } from '../ui/StaleSaveDialog.tsx';

/** Where practitioners disagree, the house decides; each choice says what it costs. */
const FIELDS: FieldSpec<Flat>[] = [
  { kind: 'text', name: 'name', label: 'Name of the job' },
  { kind: 'text', name: 'vehicle', label: 'Vehicle', optional: true },
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'bassToneHz',
    label: 'Bass tone',
    hint: '40 Hz shows the deepest demand; 50 Hz suits meters that start there',
  },
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'otherToneHz',
    label: 'Other tone',
    hint: '1 kHz for full range; many meters read low above 400 Hz',
  },
  {
    kind: 'quantity',
    unit: 'Hz',
    name: 'lineToneHz',
    label: 'Tone for line processors',
    optional: true,
    hint: 'Without it 100 Hz: every meter reads it well',
  },
  {
    kind: 'quantity',
    unit: 'dBFS',
    name: 'toneLevelDbfs',
    label: 'Recorded level of the tones',
    hint: 'As on your stick or disc; the target is lowered by it',
  },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'overlapDb',
    label: 'Gain overlap',
    hint: '0 never clips by gain; 5 plays quiet recordings louder, with more hiss and loud ones clipped',
  },
  { kind: 'quantity', unit: 'dB', name: 'headroomDb', label: 'Headroom', hint: 'Kept below the rating; 1 dB costs a fifth of the power' },
  { kind: 'quantity', unit: '%', name: 'limitThdPercent', label: 'Distortion limit', hint: 'A trace over it counts as dirty' },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'toleranceDb',
    label: 'Tolerance',
    hint: 'How far a gain may be off; under 0.2 dB costs time nobody hears',
  },
  {
    kind: 'choice',
    name: 'loadWhileSetting',
    label: 'Load while a gain is set',
    choices: [
      { value: 'off', label: 'Off: safe for ears and drivers; sag shows in the proof' },
      { value: 'on', label: 'On: rails sag as in use; loud, and hard on drivers' },
    ],
  },
  {
    kind: 'quantity',
    unit: '%',
    name: 'assumedVolumePercent',
    label: 'Volume that cannot be measured',
    optional: true,
    hint: 'Without it 75 % of the scale; 80 plays louder and may clip',
  },
  {
    kind: 'quantity',
    unit: '%',
    name: 'cornerTolerancePercent',
    label: 'Tolerance of a corner',
    optional: true,
    hint: 'How far a measured corner may lie from its setting; without it 10 %',
  },
  { kind: 'quantity', unit: '%', name: 'percent', label: 'Meter accuracy', hint: 'On AC volts, from its manual' },
  { kind: 'integer', name: 'digits', label: 'plus digits', hint: 'Counts of the last digit' },
  { kind: 'quantity', unit: 'Hz', name: 'highestHz', label: 'Meter good up to', hint: 'Many are only good to 400 Hz or 1 kHz' },
  { kind: 'quantity', unit: 'Hz', name: 'lowestHz', label: 'and from', optional: true, hint: 'Where its manual names a lowest frequency' },
  {
    kind: 'choice',
    name: 'trueRms',
    as: 'boolean',
    label: 'Kind of meter',
    choices: [
      { value: 'true', label: 'True RMS' },
      { value: 'false', label: 'Average responding: misreads a clipped wave' },
    ],
  },
  { kind: 'quantity', unit: '%', name: 'ohmPercent', label: 'Accuracy on ohms', optional: true, hint: 'Without it 1 %' },
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'ohmDigitsOhm',
    label: 'plus ohms',
    optional: true,
    hint: 'Its digits, in ohms; without it 0.1 Ω',
  },
  {
    kind: 'quantity',
    unit: 'ohm',
    name: 'leadOhm',
    label: 'Its leads',
    optional: true,
    hint: 'Probes touched together; taken off every resistance',
  },
];

type Flat = { name: string; vehicle: string } & HouseRules & Meter;

interface Conflict {
  mine: Flat;
  theirs: TuneDetail;
}

export function SettingsScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const { data } = useReadTuneQuery(tuneId);
  // Held here, since the form below starts anew with each stored version.
  const mutation = useSaveTuneMutation();
  return data === undefined ? <Loading what="the house rules" /> : <Settings key={data.version} tune={data} mutation={mutation} />;
}

function Settings({ tune, mutation }: { tune: TuneDetail; mutation: ReturnType<typeof useSaveTuneMutation> }): JSX.Element {
  const [save, { isSuccess }] = mutation;
  const [conflict, setConflict] = useState<Conflict | null>(null);
  const store = async (flat: Flat, version: number) => {
    const result = await save({ id: tune.id, body: { version, ...nested(flat) } });
    if (result.error === undefined) return [];
    const problem = problemWords(result.error);
    if (problem.status === 409) {
      setConflict({ mine: flat, theirs: problem.current as TuneDetail });
      return [];
    }
    return problem.faults.length > 0
      ? problem.faults.map((f) => ({ ...f, pointer: f.pointer.replace(/^\/settings\/(rules|meter)/, '') }))
      : [{ pointer: '', message: problem.text }];
  };
  return (
    <main className="min-w-0 flex-1 px-6 py-6">
      <h1 className="text-2xl">House rules</h1>
      <p className="text-quiet mt-1 mb-6 max-w-2xl">
        Where tuners differ, the shop decides. These hold for this tune; a change makes the readings that rest on it stale.
      </p>
      <div className="max-w-3xl">
        <RecordForm
          draftKey={`settings/${tune.id}/${tune.version}`}
          fields={FIELDS}
          value={{ ...flatOf(tune) }}
          submitLabel="Save"
          onSubmit={(flat) => store(flat, tune.version)}
        >
          <>{isSuccess && <span role="status">Saved.</span>}</>
        </RecordForm>
      </div>
      {conflict !== null && (
        <StaleSaveDialog
          what="This tune"
          mine={conflict.mine}
          theirs={flatOf(conflict.theirs)}
          tuneId={tune.id}
          onKeepMine={() => {
            setConflict(null);
            void store(conflict.mine, conflict.theirs.version);
          }}
          onTakeTheirs={() => setConflict(null)}
        />
      )}
    </main>
  );
}

function flatOf({ name, vehicle, settings: { rules, meter } }: Pick<TuneDetail, 'name' | 'vehicle' | 'settings'>): Flat {
  return { name, vehicle, ...rules, ...meter };
}

function nested({
  name,
  vehicle,
  percent,
  digits,
  highestHz,
  lowestHz,
  trueRms,
  leadOhm,
  ohmPercent,
  ohmDigitsOhm,
  ...rules
}: Flat): Pick<TuneDetail, 'name' | 'vehicle' | 'settings'> {
  const known = {
    ...(lowestHz === undefined ? {} : { lowestHz }),
    ...(leadOhm === undefined ? {} : { leadOhm }),
    ...(ohmPercent === undefined ? {} : { ohmPercent }),
    ...(ohmDigitsOhm === undefined ? {} : { ohmDigitsOhm }),
  };
  return { name, vehicle, settings: { rules, meter: { percent, digits, highestHz, trueRms, ...known } } };
}
