import type { TuneDetail } from '@yield/contract';
import type { Fault, TuneSettings } from '@yield/core';
import { useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { KeyName } from '../handover/ProvenanceLine.tsx';
import { problemWords } from '../api/problem.ts';
import { useListKeysQuery, useReadShopQuery, useSaveShopMutation } from '../api/yieldApi.ts';
import { FromGear } from '../instruments/FromGear.tsx';
import { METER_FIELDS } from '../instruments/meterFields.ts';
import { plainMeter, plainMicrophone } from '../instruments/plain.ts';
import { useAppSelector } from '../store/store.ts';
import { headFields, useEditTune } from '../tune/useEdit.ts';
import { useTune, useTuneRun } from '../tune/useTuneRun.ts';
import { differences } from '../ui/differences.ts';
import { CurveText } from '../ui/forms/CurveText.tsx';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { Loading } from '../ui/Loading.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { HouseQuestions } from './HouseQuestions.tsx';
import { impactWords } from './impactWords.ts';

/** The meter that every reading is judged by: figures of its manual. */
function MeterSection({
  draftKey,
  settings,
  onSave,
}: {
  draftKey: string;
  settings: TuneSettings;
  onSave: (settings: TuneSettings) => Promise<Fault[]>;
}): JSX.Element {
  const [isSaved, setIsSaved] = useState(false);
  return (
    <section className="mt-10 max-w-3xl" aria-label="The meter">
      <h2 className="text-lg">The meter</h2>
      <p className="text-quiet mt-1 mb-4">A difference inside its accuracy is no difference. Its manual has the figures.</p>
      <div className="mb-4">
        <FromGear
          kind="meter"
          onTake={(meter) => void onSave({ ...settings, meter: plainMeter(meter) }).then((faults) => setIsSaved(faults.length === 0))}
        />
      </div>
      <RecordForm
        draftKey={draftKey}
        fields={METER_FIELDS}
        value={settings.meter}
        submitLabel="Save the meter"
        onSubmit={async (meter) => {
          const faults = await onSave({ ...settings, meter });
          setIsSaved(faults.length === 0);
          return faults;
        }}
      >
        <>{isSaved && <span role="status">Saved.</span>}</>
      </RecordForm>
    </section>
  );
}

/** Curves that responses are measured and judged by: the microphone's calibration, and what the house wants to hear. */
function CurvesSection({
  draftKey,
  settings,
  onSave,
}: {
  draftKey: string;
  settings: TuneSettings;
  onSave: (settings: TuneSettings) => Promise<Fault[]>;
}): JSX.Element {
  const { microphone: _microphone, ...noMicrophone } = settings;
  const { houseCurve: _curve, ...noCurve } = settings;
  return (
    <section className="mt-10 max-w-3xl space-y-6" aria-label="Microphone and house curve">
      <div>
        <h2 className="text-lg">The measuring microphone</h2>
        <p className="text-quiet mt-1 mb-3">
          What it shows above the truth, as its calibration says. It is taken off every response that it records; a table of another program
          has it in already.
        </p>
        <div className="mb-4">
          <FromGear kind="microphone" onTake={(microphone) => void onSave({ ...settings, microphone: plainMicrophone(microphone) })} />
        </div>
        <CurveText
          draftKey={`${draftKey}/microphone`}
          label="Calibration: frequency and decibels in each line"
          value={settings.microphone?.calibration}
          placeholder={'20  -1.2\n1000  0\n16000  2.1'}
          submitLabel="Save the calibration"
          onSubmit={(calibration) => onSave(calibration === undefined ? noMicrophone : { ...settings, microphone: { calibration } })}
        />
      </div>
      <div>
        <h2 className="text-lg">The house’s curve</h2>
        <p className="text-quiet mt-1 mb-3">
          What a response is wanted to be where its channel says nothing of its own. Without it: level, and what the ear asks for is changed
          channel by channel.
        </p>
        <CurveText
          draftKey={`${draftKey}/curve`}
          label="Wanted: frequency and decibels in each line"
          value={settings.houseCurve}
          placeholder={'20  6\n100  4\n200  0\n16000  -3'}
          submitLabel="Save the house’s curve"
          onSubmit={(houseCurve) => onSave(houseCurve === undefined ? noCurve : { ...settings, houseCurve })}
        />
      </div>
    </section>
  );
}

/** The shop's own: what every new tune begins with. */
export function ShopScreen(): JSX.Element {
  const { data } = useReadShopQuery();
  const [save] = useSaveShopMutation();
  if (data === undefined) return <Loading what="the house rules" />;
  const { version, settings } = data;
  const store = async (next: TuneSettings): Promise<Fault[]> => {
    const result = await save({ version, settings: next });
    return result.error === undefined ? [] : faultsOf(problemWords(result.error));
  };
  return (
    <main className="mx-auto w-full max-w-3xl px-6 py-8">
      <h1 className="text-2xl">House rules of the shop</h1>
      <p className="text-quiet mt-1 mb-6 max-w-2xl">
        Where tuners differ, the shop decides. Every new tune begins with these answers and with this meter; tunes that exist keep theirs.
      </p>
      <HouseQuestions draftKey="shop" rules={settings.rules} onAnswer={(rules) => store({ ...settings, rules })} />
      <MeterSection key={version} draftKey={`shop/${version}`} settings={settings} onSave={store} />
      <CurvesSection draftKey="shop" settings={settings} onSave={store} />
      <KeysSection />
    </main>
  );
}

/** The key that signs here, as other shops compare it, and those of others that have a name. */
function KeysSection(): JSX.Element | null {
  const { data } = useListKeysQuery();
  if (data === undefined) return null;
  const { own, known } = data;
  return (
    <section className="border-line mt-8 border-t pt-5" aria-label="Signing keys">
      <h2 className="text-lg">Signing keys</h2>
      <p className="text-quiet mt-1 max-w-2xl">
        Sheets and archives are signed with this shop’s key. Read it out to another shop, and they can tell what is yours and unaltered.
      </p>
      <p className="mt-2 text-lg font-semibold tabular-nums">{own.fingerprint}</p>
      {known.length > 0 && (
        <ul className="divide-line border-line mt-3 divide-y border-y">
          {known.map(({ key, fingerprint, name = '' }) => (
            <li key={key} className="flex flex-wrap items-center gap-x-4">
              <span className="font-medium">{name}</span>
              <span className="text-quiet tabular-nums">{fingerprint}</span>
              <KeyName of={{ key, name }} />
            </li>
          ))}
        </ul>
      )}
    </section>
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
          : `Different from the shop’s rules: ${apart.map(({ path, mine, theirs }) => `${path.replace(/^(rules|meter), /, '')} ${mine}, not ${theirs}`).join('; ')}.`}
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

/** Faults of the settings, pointing at the fields of their form. */
const atFields = (faults: readonly Fault[]): Fault[] =>
  faults.map((fault) => ({ ...fault, pointer: fault.pointer.replace(/^\/settings(\/(rules|meter))?/, '') }));

/** House rules and meter of one tune. */
export function SettingsScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const tune = useTune(tuneId);
  return tune === undefined ? <Loading what="the house rules" /> : <Settings tune={tune} />;
}

function Settings({ tune }: { tune: TuneDetail }): JSX.Element {
  const edit = useEditTune(tune);
  const run = useTuneRun(tune.id);
  const meterKey = `meter/${tune.id}`;
  // A form that somebody types in stays as it is while another window saves: the two meet when it is saved.
  const [seen, setSeen] = useState(tune);
  const isTyped = useAppSelector(({ drafts }) => drafts[meterKey] !== undefined);
  if (seen !== tune && (!isTyped || seen.id !== tune.id)) setSeen(tune);
  const store = async (settings: TuneSettings, from = tune): Promise<Fault[]> =>
    atFields(await edit({ ...headFields(from), settings }, from));
  return (
    <main className="min-w-0 flex-1 px-6 py-6 max-sm:px-4">
      <h1 className="text-2xl">House rules</h1>
      <p className="text-quiet mt-1 mb-6 max-w-2xl">
        Where tuners differ, the shop decides; each answer says what it costs. These hold for this tune: what rests on an answer that
        changes wants another look.
      </p>
      <HouseQuestions
        draftKey={`settings/${tune.id}`}
        rules={tune.settings.rules}
        onAnswer={(rules) => store({ ...tune.settings, rules })}
        {...(run === null ? {} : { impactOf: (rules) => impactWords(run, rules) })}
      />
      <MeterSection
        key={JSON.stringify(seen.settings.meter)}
        draftKey={meterKey}
        settings={seen.settings}
        onSave={(settings) => store(settings, seen)}
      />
      <CurvesSection draftKey={`curves/${tune.id}`} settings={tune.settings} onSave={store} />
      <ShopAndTune tune={tune} onTake={(settings) => void store(settings)} />
    </main>
  );
}
