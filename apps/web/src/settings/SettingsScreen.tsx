import type { TuneDetail } from '@yield/contract';
import type { Fault, HouseRules, Meter, TuneSettings } from '@yield/core';
import { useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { problemWords } from '../api/problem.ts';
import { useReadShopQuery, useSaveShopMutation } from '../api/yieldApi.ts';
import type { FieldSpec } from '../ui/forms/fields.ts';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { useAppSelector } from '../store/store.ts';
import { useEditTune, type TuneHeadFields } from '../tune/useEdit.ts';
import { useTune } from '../tune/useTuneRun.ts';
import { differences } from '../ui/differences.ts';
import { Loading } from '../ui/Loading.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { flatSettings, type FlatSettings } from '../tune/flatSettings.ts';

/** Where practitioners disagree, the house decides; each choice says what it costs. */
const FIELDS: FieldSpec<FlatSettings>[] = [
  { kind: 'text', name: 'name', label: 'Name of the job' },
  { kind: 'text', name: 'vehicle', label: 'Vehicle', optional: true },
  {
    kind: 'choice',
    name: 'isPractice',
    as: 'boolean',
    label: 'What this tune is for',
    choices: [
      { value: 'false', label: 'A real car: what the simulated bench shows does not count' },
      { value: 'true', label: 'Practice: the simulated bench counts' },
    ],
  },
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
  {
    kind: 'choice',
    name: 'gainBy',
    label: 'What decides a gain',
    optional: true,
    choices: [
      { value: 'meter', label: 'A meter and a computed voltage, proved by scope: quiet' },
      { value: 'scope', label: 'The first flattening on a scope, load on: what this amplifier really makes' },
    ],
  },
  {
    kind: 'quantity',
    unit: 'dB',
    name: 'onsetMarginDb',
    label: 'Margin below the first flattening',
    optional: true,
    hint: 'Without it a tenth of a decibel',
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
    kind: 'choice',
    name: 'outputsWith',
    optional: true,
    label: 'Wished voltage of a processor’s outputs',
    choices: [
      { value: 'full-scale', label: 'Of full scale: a tone recorded lower shows less' },
      { value: 'tone', label: 'Of the tone as recorded: music goes that much higher' },
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
  { kind: 'integer', name: 'counts', label: 'Highest count', optional: true, hint: 'Of its display: 1999, 3999, 5999; without it 1999' },
  {
    kind: 'quantity',
    unit: 'V',
    name: 'finestVolt',
    label: 'Smallest step on AC',
    optional: true,
    hint: 'On its lowest range: 0.1 V where that is 200.0 V; without it 1 mV',
  },
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

const SHOP_FIELDS = FIELDS.filter(({ name }) => name !== 'name' && name !== 'vehicle' && name !== 'isPractice') as FieldSpec<
  HouseRules & Meter
>[];

/** The shop's own: what every new tune begins with. */
export function ShopScreen(): JSX.Element {
  const { data } = useReadShopQuery();
  const [save, { isSuccess }] = useSaveShopMutation();
  if (data === undefined) return <Loading what="the house rules" />;
  return (
    <main className="mx-auto w-full max-w-3xl px-6 py-8">
      <h1 className="text-2xl">House rules of the shop</h1>
      <p className="text-quiet mt-1 mb-6 max-w-2xl">
        Every new tune begins with these and with this meter. Tunes that exist keep theirs; each can be changed for itself.
      </p>
      <RecordForm
        key={data.version}
        draftKey={`shop/${data.version}`}
        fields={SHOP_FIELDS}
        value={{ ...data.settings.rules, ...data.settings.meter }}
        submitLabel="Save for the shop"
        onSubmit={async (flat) => {
          const result = await save({ version: data.version, settings: nestedSettings(flat) });
          return result.error === undefined ? [] : faultsOf(problemWords(result.error));
        }}
      >
        <>{isSuccess && <span role="status">Saved.</span>}</>
      </RecordForm>
    </main>
  );
}

/** The shop's rules taken over for this tune, or this tune's made the shop's. */
function ShopAndTune({ tune, onTake }: { tune: TuneDetail; onTake: (settings: TuneSettings) => void }): JSX.Element | null {
  const { data } = useReadShopQuery();
  const [save, { isSuccess, error }] = useSaveShopMutation();
  if (data === undefined) return null;
  const { isPractice, ...settings } = tune.settings;
  const apart = differences(settings, data.settings);
  return (
    <section className="border-line mt-8 max-w-3xl border-t pt-5" aria-label="This tune and the shop">
      <h2 className="text-lg">This tune and the shop</h2>
      <p className="text-quiet mt-1">
        {apart.length === 0
          ? 'Stored as in the shop.'
          : `Stored otherwise than in the shop: ${apart.map(({ path, mine, theirs }) => `${path.replace(/^(rules|meter), /, '')} ${mine}, not ${theirs}`).join('; ')}.`}
      </p>
      {apart.length > 0 && (
        <div className="mt-3 flex flex-wrap gap-3">
          <button
            type="button"
            className="btn btn-tall"
            onClick={() => onTake({ ...data.settings, ...(isPractice === undefined ? {} : { isPractice }) })}
          >
            Take the shop’s for this tune
          </button>
          <button type="button" className="btn btn-tall" onClick={() => void save({ version: data.version, settings })}>
            Make these the shop’s
          </button>
        </div>
      )}
      {isSuccess && <p role="status">The shop has them now.</p>}
      {error !== undefined && <ErrorNotice>{problemWords(error).text}</ErrorNotice>}
      <Link to="/shop" className="text-action mt-2 inline-flex min-h-11 items-center font-medium hover:underline">
        House rules of the shop
      </Link>
    </section>
  );
}

const faultsOf = (problem: ReturnType<typeof problemWords>): Fault[] =>
  problem.faults.length > 0 ? atFields(problem.faults) : [{ pointer: '', message: problem.text }];

/** Faults of a tune, pointing at the fields of the flat form. */
const atFields = (faults: readonly Fault[]): Fault[] =>
  faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/settings(\/(rules|meter))?/, '') }));

export function SettingsScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const data = useTune(tuneId);
  // Held here, since the form below starts anew with each stored version.
  const [isSaved, setIsSaved] = useState(false);
  // A form that somebody types in stays as it is while another window saves: the two meet when it is saved.
  const [seen, setSeen] = useState(data);
  const isTyped = useAppSelector(({ drafts }) => drafts[`settings/${tuneId}/${seen?.version ?? 0}`] !== undefined);
  if (data !== undefined && seen !== data && (!isTyped || seen?.id !== data.id)) setSeen(data);
  if (data === undefined || seen === undefined) return <Loading what="the house rules" />;
  return <Settings key={seen.version} tune={seen} now={data} isSaved={isSaved} onSaved={setIsSaved} />;
}

function Settings({
  tune,
  now,
  isSaved,
  onSaved,
}: {
  tune: TuneDetail;
  now: TuneDetail;
  isSaved: boolean;
  onSaved: (isSaved: boolean) => void;
}): JSX.Element {
  const edit = useEditTune(now);
  const store = async (flat: FlatSettings): Promise<Fault[]> => {
    const faults = atFields(await edit(nested(flat), tune));
    onSaved(faults.length === 0);
    return faults;
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
          value={{ ...flatSettings(tune) }}
          submitLabel="Save"
          onSubmit={store}
        >
          <>{isSaved && <span role="status">Saved.</span>}</>
        </RecordForm>
      </div>
      <ShopAndTune tune={tune} onTake={(settings) => void store({ ...flatSettings({ ...tune, settings }) })} />
    </main>
  );
}

function nested({ name, vehicle, isPractice, ...settings }: FlatSettings): TuneHeadFields {
  return { name, vehicle, settings: { ...nestedSettings(settings), ...(isPractice === true ? { isPractice } : {}) } };
}

function nestedSettings({
  percent,
  digits,
  counts,
  finestVolt,
  highestHz,
  lowestHz,
  trueRms,
  leadOhm,
  ohmPercent,
  ohmDigitsOhm,
  ...rules
}: HouseRules & Meter): TuneSettings {
  const known = {
    ...(counts === undefined ? {} : { counts }),
    ...(finestVolt === undefined ? {} : { finestVolt }),
    ...(lowestHz === undefined ? {} : { lowestHz }),
    ...(leadOhm === undefined ? {} : { leadOhm }),
    ...(ohmPercent === undefined ? {} : { ohmPercent }),
    ...(ohmDigitsOhm === undefined ? {} : { ohmDigitsOhm }),
  };
  return { rules, meter: { percent, digits, highestHz, trueRms, ...known } };
}
