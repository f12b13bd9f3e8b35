import { findingKey } from '../ui/findingKey.ts';
import type { TuneDetail } from '@yield/contract';
import {
  alikeGroups,
  atCorner,
  atStep,
  type Chain,
  countedRecords,
  crossoverFindings,
  type CrossoverPlan,
  type DialGear,
  dialGearsOf,
  driverGroupsOf,
  groupIdAfter,
  newSituation,
  NOTHING_PROVED,
  planCrossovers,
  powerShare,
  provedNow,
  withFilter,
  worstFirst,
} from '@yield/core';
import { Disc3, Wand2 } from 'lucide-react';
import { useMemo, useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { useEditChain } from '../tune/useEdit.ts';
import { useTuneRun, useTune } from '../tune/useTuneRun.ts';
import { ChoiceField } from '../ui/ChoiceField.tsx';
import { FindingLine, GradedLine } from '../ui/FindingLine.tsx';
import { Loading } from '../ui/Loading.tsx';
import { Caution, ErrorNotice } from '../ui/Notice.tsx';
import { AtFrequency } from './AtFrequency.tsx';
import { CrossoverPicture } from './CrossoverPicture.tsx';
import type { Quantity } from './curvePoints.ts';
import { DialsDialog } from './DialsDialog.tsx';
import { Meetings } from './Meetings.tsx';
import { PlanDialog } from './PlanDialog.tsx';
import { useCrossoverDraft } from './useCrossoverDraft.ts';
import { WayEditor } from './WayEditor.tsx';

/** Every filter of the chain: planned, drawn, moved, and only then put into the chain. */
export default function CrossoversScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const data = useTune(tuneId);
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
  const { edit } = useEditChain(tune);
  const [quantity, setQuantity] = useState<Quantity>('level');
  const [selected, setSelected] = useState<string | undefined>();
  const [cursorHz, setCursorHz] = useState(1000);
  const [plan, setPlan] = useState<CrossoverPlan | null>(null);
  const [gear, setGear] = useState<DialGear | null>(null);
  const [faults, setFaults] = useState<readonly string[]>([]);
  const { chain } = draft;
  const groups = useMemo(() => alikeGroups(driverGroupsOf(chain)), [chain]);
  // What was measured, of the filters as they are planned here.
  const proved = useMemo(
    () => (run === null ? NOTHING_PROVED : provedNow(newSituation(chain, tune.settings, countedRecords(run.now)))),
    [chain, tune.settings, run],
  );
  const shares = useMemo(() => groups.map((group) => powerShare(chain, group)), [chain, groups]);
  const findings = useMemo(() => worstFirst(crossoverFindings(chain, proved)), [chain, proved]);
  const isBare = groups.every(({ filters, passive }) => filters.length + passive.length === 0);
  const group = groups.find(({ id }) => id === selected) ?? groups[0]!;

  const change = (next: Chain): void => {
    draft.change(next);
    setSelected(groupIdAfter(next, group));
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
          groups={groups}
          proved={proved}
          quantity={quantity}
          shares={shares}
          selectedId={group.id}
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
          <WayEditor key={group.id} chain={chain} group={group} proved={proved} onChange={change} />
          <section aria-label="What is said of it" className="space-y-3" data-testid="crossover-findings">
            {findings.length === 0 ? (
              <GradedLine grade="good" text="No problems: every driver is protected, and neighbouring filters meet." />
            ) : (
              findings.map((finding) => <FindingLine key={findingKey(finding)} finding={finding} />)
            )}
          </section>
        </div>
        <div className="space-y-4">
          <AtFrequency tune={tune} chain={chain} groups={groups} proved={proved} cursorHz={cursorHz} onCursor={setCursorHz} />
          <Meetings groups={groups} proved={proved} />
          <Dials chain={chain} onOpen={setGear} />
        </div>
      </div>
      <div className="mt-6 pb-5">
        <Caution>
          Set every filter before a tone plays, and tweeters’ first: a tweeter without its filter dies in a moment. The equipment’s manual
          and licensed practice come first.
        </Caution>
      </div>
      {(faults.length > 0 || draft.isChanged) && <PlannedBar faults={faults} onDrop={draft.drop} onStore={() => void store()} />}
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
    </main>
  );
}

/** The dials of the chain, each with its table. */
function Dials({ chain, onOpen }: { chain: Chain; onOpen: (gear: DialGear) => void }): JSX.Element {
  return (
    <section className="panel" aria-label="Dials">
      <h2 className="mb-2 text-sm font-semibold">Dials</h2>
      <ul className="space-y-1">
        {dialGearsOf(chain).map((each) => (
          <li key={`${each.place}${each.id}`}>
            <button
              type="button"
              className="btn h-auto min-h-11 w-full justify-start py-2 text-left leading-tight"
              onClick={() => onOpen(each)}
            >
              <Disc3 size={18} aria-hidden className="shrink-0" /> {each.name}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Says that the plan is no part of the chain yet, and why it was refused. */
function PlannedBar({ faults, onDrop, onStore }: { faults: readonly string[]; onDrop: () => void; onStore: () => void }): JSX.Element {
  return (
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
        <button type="button" className="btn btn-tall" onClick={onDrop}>
          Discard
        </button>
        <button type="button" className="btn btn-primary btn-tall" onClick={onStore}>
          Put into the chain
        </button>
      </div>
    </div>
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
