import type { TuneDetail } from '@yield/contract';
import {
  crossingOf,
  crossoverFindings,
  formatQuantity,
  gravestFirst,
  likeName,
  likeVoices,
  neighbours,
  newSituation,
  NOTHING_PROVED,
  planCrossovers,
  powerShare,
  provedNow,
  reachAt,
  signedDb,
  voicesOf,
  type Chain,
  type CrossoverPlan,
  type LikeVoices,
  type ProvedFilters,
} from '@yield/core';
import { Disc3, Wand2 } from 'lucide-react';
import { useMemo, useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { useReadTuneQuery } from '../api/yieldApi.ts';
import { useEditChain } from '../tune/useEditChain.tsx';
import { useTuneRun } from '../tune/useTuneRun.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { CurveSample } from '../ui/curveLooks.tsx';
import { FindingLine } from '../ui/FindingLine.tsx';
import { Loading } from '../ui/Loading.tsx';
import { Caution, ErrorNotice } from '../ui/Notice.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { readQuantity } from '../ui/useDraft.ts';
import { CrossoverPicture } from './CrossoverPicture.tsx';
import type { Quantity } from './curvePoints.ts';
import { DialsDialog } from './DialsDialog.tsx';
import { atCorner, atStep, voiceIdAfter, withFilter } from './edits.ts';
import { gearsOf, type Gear } from './gear.ts';
import { PlanDialog } from './PlanDialog.tsx';
import { useCrossoverDraft } from './useCrossoverDraft.ts';
import { WayEditor } from './WayEditor.tsx';

/** Every filter of the chain: planned, drawn, moved, and only then put into the chain. */
export default function CrossoversScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const { data } = useReadTuneQuery(tuneId);
  if (data === undefined) return <Loading what="the crossovers" />;
  return data.chain.body.channels.length === 0 ? <NoChannels tuneId={tuneId} /> : <Crossovers tune={data} />;
}

const QUANTITIES = [
  { value: 'level', label: 'Level' },
  { value: 'phase', label: 'Phase' },
  { value: 'delay', label: 'Group delay' },
] as const;

function Crossovers({ tune }: { tune: TuneDetail }): JSX.Element {
  const run = useTuneRun(tune.id);
  const draft = useCrossoverDraft(tune);
  const { edit, conflictDialog } = useEditChain(tune);
  const [quantity, setQuantity] = useState<Quantity>('level');
  const [selected, setSelected] = useState<string | undefined>();
  const [cursorHz, setCursorHz] = useState(1000);
  const [plan, setPlan] = useState<CrossoverPlan | null>(null);
  const [gear, setGear] = useState<Gear | null>(null);
  const [faults, setFaults] = useState<readonly string[]>([]);
  const { chain } = draft;
  const voices = useMemo(() => likeVoices(voicesOf(chain)), [chain]);
  // What was measured, of the filters as they are planned here.
  const proved = useMemo(
    () => (run === null ? NOTHING_PROVED : provedNow(newSituation(chain, tune.settings, run.now.records))),
    [chain, tune.settings, run],
  );
  const shares = useMemo(() => voices.map((voice) => powerShare(chain, voice)), [chain, voices]);
  const findings = useMemo(() => gravestFirst(crossoverFindings(chain, proved)), [chain, proved]);
  const isBare = voices.every(({ filters, passive }) => filters.length + passive.length === 0);
  const voice = voices.find(({ id }) => id === selected) ?? voices[0]!;

  const change = (next: Chain): void => {
    draft.change(next);
    setSelected(voiceIdAfter(next, voice));
    setFaults([]);
  };
  const store = async (): Promise<void> => {
    setFaults((await edit(chain, { seen: draft.seen, onSaved: draft.drop })).map(({ message }) => message));
  };
  return (
    <main className="flex min-w-0 flex-1 flex-col px-6 pt-5 max-sm:px-4">
      <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-3">
        <h1 className="text-2xl">Crossovers</h1>
        <div className="flex flex-wrap items-center gap-3">
          <ChoiceField label="What is drawn" hideLabel value={quantity} choices={QUANTITIES} onChange={setQuantity} />
          <button type="button" className={`btn btn-tall ${isBare ? 'btn-primary' : ''}`} onClick={() => setPlan(planCrossovers(chain))}>
            <Wand2 size={18} aria-hidden /> Propose
          </button>
        </div>
      </div>
      <div className="mt-3">
        <CrossoverPicture
          voices={voices}
          proved={proved}
          quantity={quantity}
          shares={shares}
          selectedId={voice.id}
          cursorHz={cursorHz}
          onCursor={setCursorHz}
          onSelect={setSelected}
          onMove={(way, filter, hertz) => {
            setCursorHz(hertz);
            draft.move(withFilter(chain, way, filter, (each, channel) => atCorner(chain, channel, each, hertz)));
          }}
          onMoved={draft.settle}
          onStep={(way, filter, steps) => change(withFilter(chain, way, filter, (each, channel) => atStep(chain, channel, each, steps)))}
        />
      </div>
      <div className="mt-5 grid items-start gap-x-8 gap-y-6 xl:grid-cols-[minmax(0,1fr)_20rem]">
        <div className="min-w-0 space-y-6">
          <WayEditor key={voice.id} chain={chain} voice={voice} proved={proved} onChange={change} />
          <section aria-label="What is said of it" className="space-y-3" data-testid="crossover-findings">
            {findings.length === 0 ? (
              <FindingLine finding={{ grade: 'good', words: 'Nothing to complain of: every way is safe, and neighbours meet.' }} />
            ) : (
              findings.map((finding) => <FindingLine key={finding.words} finding={finding} />)
            )}
          </section>
        </div>
        <div className="space-y-4">
          <AtFrequency tune={tune} chain={chain} voices={voices} proved={proved} cursorHz={cursorHz} onCursor={setCursorHz} />
          <Meetings voices={voices} proved={proved} />
          <section className="panel" aria-label="Dials">
            <h2 className="mb-2 text-sm font-semibold">Dials</h2>
            <ul className="space-y-1">
              {gearsOf(chain).map((each) => (
                <li key={`${each.place}${each.id}`}>
                  <button
                    type="button"
                    className="btn h-auto min-h-11 w-full justify-start py-2 text-left leading-tight"
                    onClick={() => setGear(each)}
                  >
                    <Disc3 size={18} aria-hidden className="shrink-0" /> {each.name}
                  </button>
                </li>
              ))}
            </ul>
          </section>
        </div>
      </div>
      <div className="mt-6 pb-5">
        <Caution>
          Set every filter before a tone plays, and tweeters’ first: a tweeter without its filter dies in a moment. The equipment’s manual
          and licensed practice come first.
        </Caution>
      </div>
      {(faults.length > 0 || draft.isChanged) && (
        <div className="bg-ground border-line sticky bottom-0 z-10 -mx-6 mt-auto space-y-3 border-t px-6 py-3 max-sm:-mx-4 max-sm:px-4">
          {faults.length > 0 && (
            <ErrorNotice>
              {faults.map((fault) => (
                <p key={fault}>{fault}</p>
              ))}
            </ErrorNotice>
          )}
          <div className="flex flex-wrap items-center gap-3" role="status">
            <p className="mr-auto font-medium">Planned here, not in the chain yet.</p>
            <button type="button" className="btn btn-tall" onClick={draft.drop}>
              Drop it
            </button>
            <button type="button" className="btn btn-primary btn-tall" onClick={() => void store()}>
              Put into the chain
            </button>
          </div>
        </div>
      )}
      {plan !== null && (
        <PlanDialog
          chain={chain}
          plan={plan}
          onPlan={setPlan}
          onTake={(next) => {
            setPlan(null);
            change(next);
          }}
          onClose={() => setPlan(null)}
        />
      )}
      {gear !== null && <DialsDialog chain={chain} gear={gear} tuneId={tune.id} onChange={change} onClose={() => setGear(null)} />}
      {conflictDialog}
    </main>
  );
}

/** What reaches each way's drivers where the picture's line stands. */
function AtFrequency({
  tune,
  chain,
  voices,
  proved,
  cursorHz,
  onCursor,
}: {
  tune: TuneDetail;
  chain: Chain;
  voices: readonly LikeVoices[];
  proved: ProvedFilters;
  cursorHz: number;
  onCursor: (hertz: number) => void;
}): JSX.Element {
  const [text, setText] = useState<string | null>(null);
  const shown = Number(cursorHz.toPrecision(3));
  const draft = { text: text ?? String(shown), ...readQuantity(text ?? String(shown), 'Hz') };
  return (
    <section className="panel" aria-label="At one frequency">
      <div onBlur={() => setText(null)}>
        <QuantityField
          label="A full-scale tone of"
          unit="Hz"
          draft={{
            ...draft,
            setText: (next) => {
              setText(next);
              const { value } = readQuantity(next ?? '', 'Hz');
              if (value !== undefined) onCursor(value);
            },
          }}
        />
      </div>
      <table className="mt-3 w-full text-sm">
        <thead className="sr-only">
          <tr>
            <th>Way</th>
            <th>Level</th>
            <th>Voltage</th>
            <th>Power</th>
          </tr>
        </thead>
        <tbody>
          {voices.map((voice, i) => {
            const { db, volt, watt } = reachAt(chain, tune.settings.rules, voice, cursorHz, proved);
            return (
              <tr key={voice.id} className="border-line border-t">
                <td className="py-1.5 pr-2">
                  <span className="flex items-center gap-2 leading-tight">
                    <span className="shrink-0">
                      <CurveSample index={i} />
                    </span>
                    <span className="line-clamp-2">{likeName(voice)}</span>
                  </span>
                </td>
                <td className="text-right font-medium whitespace-nowrap">{db < -80 ? '< −80 dB' : signedDb(db)}</td>
                <td className="pl-2 text-right whitespace-nowrap">{volt === undefined || db < -80 ? '–' : formatQuantity(volt, 'V')}</td>
                <td className="pl-2 text-right whitespace-nowrap">
                  {watt === undefined || db < -80 ? '–' : watt < 0.01 ? '< 0.01 W' : formatQuantity(watt, 'W')}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** Level and phase where neighbours meet. */
function Meetings({ voices, proved }: { voices: readonly LikeVoices[]; proved: ProvedFilters }): JSX.Element | null {
  const pairs = neighbours(voices);
  if (pairs.length === 0) return null;
  return (
    <section className="panel" aria-label="Where they meet">
      <h2 className="mb-2 text-sm font-semibold">Where they meet</h2>
      <ul className="space-y-3">
        {pairs.map(([lower, upper]) => {
          const crossing = crossingOf(lower, upper, proved);
          return (
            <li key={`${lower.id}${upper.id}`}>
              <p className="text-quiet text-sm leading-tight">
                {likeName(lower)}, {likeName(upper)}
              </p>
              {crossing === undefined ? (
                <p className="text-attention font-medium">nowhere</p>
              ) : (
                <p className="flex flex-wrap items-baseline gap-x-3">
                  <span className="text-lg font-semibold">{formatQuantity(crossing.hertz, 'Hz')}</span>
                  <span>{signedDb(crossing.levelDb)} each</span>
                  <span>{Math.round(Math.abs(crossing.phaseDeg))}° apart</span>
                  <span>sum {signedDb(crossing.sumDb)}</span>
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function NoChannels({ tuneId }: { tuneId: string }): JSX.Element {
  return (
    <main className="flex-1 px-6 py-8">
      <section className="panel max-w-xl p-8">
        <h1 className="text-xl">No channels yet</h1>
        <p className="text-quiet mt-2">
          Crossovers part the sound between drivers. Enter an amplifier and its channels with their drivers first.
        </p>
        <Link to={`/tunes/${tuneId}/chain`} className="btn btn-primary btn-tall mt-5">
          Describe the chain
        </Link>
      </section>
    </main>
  );
}
