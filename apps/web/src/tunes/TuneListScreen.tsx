import type { TuneListRow } from '@yield/contract';
import { chainFromGear } from '@yield/core';
import { Copy, Download, Flag, Plus, RotateCcw, Trash2 } from 'lucide-react';
import { useDeferredValue, useEffect, useState, type JSX } from 'react';
import { Link, useNavigate } from 'react-router';
import { newUuid } from '../api/newId.ts';
import { problemWords } from '../api/problem.ts';
import {
  useCopyTuneMutation,
  useCreateTuneMutation,
  useDeleteTuneMutation,
  useListArchiveQuery,
  useListGearQuery,
  useListTunesQuery,
  useLoadDemoMutation,
  useRestoreTuneMutation,
  useSaveChainMutation,
  useSaveTuneMutation,
} from '../api/yieldApi.ts';
import { newId } from '../chain/chainFields.ts';
import { useFirstRun } from '../firstRun/useFirstRun.ts';
import { GearPicker, pickedGear, pickedSettings, type Picks } from '../gear/GearPicker.tsx';
import { RecordForm } from '../ui/forms/RecordForm.tsx';
import { Dialog } from '../ui/Dialog.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { Loading } from '../ui/Loading.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { PartBoundary } from '../ui/PartBoundary.tsx';
import { StatusMark } from '../ui/StatusMark.tsx';
import { Exchange } from './Exchange.tsx';
import { NEW_TUNE_FIELDS } from './tuneFields.ts';

/** Every job: what is next on it and what needs attention. */
export function TuneListScreen(): JSX.Element {
  const [order, setOrder] = useDraft('tunes/order', 'changed');
  const [sought, setSought] = useState('');
  const [pages, setPages] = useState(1);
  const search = useDeferredValue(sought.trim());
  const sort = ORDERS.includes(order as Order) ? (order as Order) : 'changed';
  const { currentData, data, error, isLoading, refetch } = useListTunesQuery(
    { ...(search === '' ? {} : { search }), sort, limit: pages * PAGE },
    { refetchOnMountOrArgChange: true },
  );
  const tunes = (currentData ?? data)?.rows;
  const pending = tunes?.filter(({ isPending }) => isPending === true).length ?? 0;
  // After an update every tune is worked out anew, by and by: the page fills as they come.
  useEffect(() => {
    if (pending === 0) return undefined;
    const timer = setTimeout(() => void refetch(), 1000);
    return () => clearTimeout(timer);
  }, [pending, refetch, data]);
  const total = (currentData ?? data)?.total ?? 0;
  // Once there were tunes, nothing found is no empty shop.
  const isEmpty = tunes?.length === 0 && search === '';
  const [creating, setCreating] = useState(false);
  const [copied, setCopied] = useState<TuneListRow | null>(null);
  const [putAway, setPutAway] = useState<{ id: string; name: string } | null>(null);
  const [restore] = useRestoreTuneMutation();

  if (isLoading) return <Loading what="the tunes" />;
  return (
    <main className="mx-auto w-full max-w-5xl px-6 py-8">
      <div className="mb-6 flex flex-wrap items-center justify-between gap-4">
        <h1 className="text-3xl">Tunes</h1>
        {tunes !== undefined && !isEmpty && (
          <div className="flex flex-wrap items-center gap-3">
            {(total > 3 || sought !== '') && (
              <input
                className="input min-h-11 w-44"
                type="search"
                placeholder="Find a tune"
                aria-label="Find a tune"
                value={sought}
                onChange={(event) => {
                  setSought(event.target.value);
                  setPages(1);
                }}
              />
            )}
            <select className="select min-h-11 w-44" aria-label="Order" value={order} onChange={(event) => setOrder(event.target.value)}>
              <option value="changed">last changed first</option>
              <option value="name">by name</option>
              <option value="open">most to do first</option>
            </select>
            <Link to="/gear" className="btn btn-tall">
              Gear
            </Link>
            <Link to="/shop" className="btn btn-tall">
              House rules
            </Link>
            <button type="button" className="btn btn-primary btn-tall" onClick={() => setCreating(true)}>
              <Plus size={20} aria-hidden /> New tune
            </button>
          </div>
        )}
      </div>
      {error !== undefined && (
        <ErrorNotice>
          <p>{problemWords(error).text}</p>
          <button type="button" className="btn btn-sm mt-3" onClick={() => void refetch()}>
            Try again
          </button>
        </ErrorNotice>
      )}
      {putAway !== null && (
        <div role="status" className="panel mb-4 flex flex-wrap items-center justify-between gap-3">
          <span>“{putAway.name}” was deleted.</span>
          <button
            type="button"
            className="btn"
            onClick={() => {
              void restore(putAway.id);
              setPutAway(null);
            }}
          >
            <RotateCcw size={18} aria-hidden /> Restore
          </button>
        </div>
      )}
      {isEmpty && <EmptyList onCreate={() => setCreating(true)} />}
      {tunes !== undefined && !isEmpty && (
        <>
          {tunes.length === 0 && <p className="text-quiet py-6">No tune is called “{sought.trim()}”, and no vehicle.</p>}
          {pending > 0 && (
            <div role="status" className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
              <span className="text-quiet">
                Calculating tune {tunes.length - pending + 1} of {tunes.length}
              </span>
              <progress className="progress progress-primary w-48" max={tunes.length} value={tunes.length - pending} />
            </div>
          )}
          <ul className="divide-line border-line divide-y border-y">
            {tunes.map((tune) => (
              <PartBoundary key={tune.id} what={tune.name}>
                <TuneRow tune={tune} onCopy={() => setCopied(tune)} onPutAway={() => setPutAway({ id: tune.id, name: tune.name })} />
              </PartBoundary>
            ))}
          </ul>
          {tunes.length < total && (
            <button type="button" className="btn btn-tall mt-4" onClick={() => setPages(pages + 1)}>
              {total - tunes.length} more: show the next {Math.min(PAGE, total - tunes.length)}
            </button>
          )}
        </>
      )}
      {tunes !== undefined && !isEmpty && search === '' && total <= FEW && <NewHere />}
      {tunes !== undefined && <Archive onRestore={(id) => void restore(id)} />}
      {tunes !== undefined && <Exchange hasTunes={!isEmpty} onBroughtIn={() => void refetch()} />}
      {creating && <NewTuneDialog onClose={() => setCreating(false)} />}
      {copied !== null && <NewTuneDialog like={copied} onClose={() => setCopied(null)} />}
    </main>
  );
}

/** Whoever has no more than the demo may be new. */
const FEW = 4;

function NewHere(): JSX.Element {
  const { begin, isBusy, fault } = useFirstRun();
  return (
    <div className="mt-6">
      <button type="button" className="btn btn-tall" disabled={isBusy} onClick={() => void begin()}>
        <Flag size={18} aria-hidden /> New here? A first run on the simulated bench, five minutes
      </button>
      {fault !== undefined && <ErrorNotice>{fault}</ErrorNotice>}
    </div>
  );
}

const ORDERS = ['changed', 'name', 'open'] as const;
type Order = (typeof ORDERS)[number];
/** So many are shown at first, and so many more at a press. */
const PAGE = 50;

const dateOf = (instant: string): string => new Date(instant).toLocaleDateString(undefined, { dateStyle: 'medium' });

/** Tunes that were put away, asked for when it is opened. */
function Archive({ onRestore }: { onRestore: (id: string) => void }): JSX.Element {
  const [isOpen, setIsOpen] = useState(false);
  const { data } = useListArchiveQuery(undefined, { skip: !isOpen });
  return (
    <details className="mt-8" onToggle={(event) => setIsOpen(event.currentTarget.open)}>
      <summary className="text-quiet min-h-11 cursor-pointer content-center">Deleted tunes</summary>
      {data?.length === 0 && <p className="text-quiet">Nothing was deleted.</p>}
      <ul className="divide-line border-line divide-y border-y">
        {(data ?? []).map(({ id, name, vehicle, putAwayAt }) => (
          <li key={id} className="flex flex-wrap items-center justify-between gap-3 py-3">
            <span className="min-w-0">
              <span className="font-medium">{name}</span> <span className="text-quiet text-sm">{vehicle}</span>
              <span className="text-quiet block text-sm">deleted {dateOf(putAwayAt)}</span>
            </span>
            <button type="button" className="btn" onClick={() => onRestore(id)} aria-label={`Bring back ${name}`}>
              <RotateCcw size={18} aria-hidden /> Restore
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** What is said of a tune that nothing is found wrong with. */
function nothingWords({ summary, isPending }: TuneListRow): string {
  if (summary.fault !== undefined) return summary.fault;
  if (isPending === true) return 'Calculating …';
  return summary.total === 0 ? 'Describe the chain first: source, amplifiers, channels.' : 'Nothing needs attention.';
}

function TuneRow({ tune, onCopy, onPutAway }: { tune: TuneListRow; onCopy: () => void; onPutAway: () => void }): JSX.Element {
  const { id, name, vehicle, summary, updatedAt } = tune;
  const [remove] = useDeleteTuneMutation();
  const settled = summary.counts.done + summary.counts.skipped;
  return (
    <li className="group relative grid grid-cols-[minmax(0,1fr)_auto] gap-x-6 gap-y-3 py-5 md:grid-cols-[minmax(0,16rem)_minmax(0,1fr)_auto]">
      <div className="col-start-1 row-start-1 min-w-0">
        <h2 className="text-xl leading-snug">
          <Link to={`/tunes/${id}`} className="after:absolute after:inset-0 hover:underline">
            {name}
          </Link>
        </h2>
        <p className="text-quiet mt-0.5 text-sm">{vehicle}</p>
        <Progress settled={settled} total={summary.total} />
        <p className="text-quiet mt-1 text-sm">changed {dateOf(updatedAt)}</p>
      </div>
      <div className="min-w-0 max-md:col-span-2 max-md:row-start-2 md:col-start-2 md:row-start-1">
        {summary.attention.length > 0 && (
          <ul className="space-y-2">
            {summary.attention.slice(0, 3).map(({ stepId, title, status, words }) => (
              <li key={stepId} className="flex gap-2.5">
                <span className="pt-0.5">
                  <StatusMark status={status} />
                </span>
                <Link to={`/tunes/${id}/run/${stepId}`} className="relative z-10 leading-snug hover:underline">
                  <span className="font-medium">{title}.</span> <span className="text-quiet">{words}</span>
                </Link>
              </li>
            ))}
            {summary.attention.length > 3 && (
              <li className="pl-7 text-sm">
                <Link to={`/tunes/${id}/finished`} className="text-quiet relative z-10 hover:underline">
                  {summary.attention.length - 3} more want attention
                </Link>
              </li>
            )}
          </ul>
        )}
        {summary.attention.length === 0 && <p className="text-quiet">{nothingWords(tune)}</p>}
        {summary.next !== undefined && !summary.attention.some(({ stepId }) => stepId === summary.next?.stepId) && (
          <p className="mt-2 flex gap-2.5">
            <span className="pt-0.5">
              <StatusMark status={summary.next.status} />
            </span>
            <span>
              <span className="font-medium">Next: {summary.next.title}.</span> <span className="text-quiet">{summary.next.words}</span>
            </span>
          </p>
        )}
      </div>
      <div className="relative z-10 col-start-2 row-start-1 -mt-1.5 flex self-start md:col-start-3">
        <button
          type="button"
          className="btn btn-ghost btn-square"
          aria-label={`Another tune like ${name}`}
          title="Another like this"
          onClick={onCopy}
        >
          <Copy size={18} className="text-quiet" aria-hidden />
        </button>
        <a
          href={`/api/v1/tunes/${id}/export.zip`}
          download
          className="btn btn-ghost btn-square"
          aria-label={`Save ${name} as an archive`}
          title="Save as an archive"
        >
          <Download size={18} className="text-quiet" aria-hidden />
        </a>
        <button
          type="button"
          className="btn btn-ghost btn-square"
          aria-label={`Delete ${name}`}
          title="Delete"
          onClick={() => {
            void remove(id).then((result) => {
              if (result.error === undefined) onPutAway();
            });
          }}
        >
          <Trash2 size={18} className="text-quiet" aria-hidden />
        </button>
      </div>
    </li>
  );
}

function Progress({ settled, total }: { settled: number; total: number }): JSX.Element | null {
  if (total === 0) return null;
  return (
    <div className="mt-3 flex items-center gap-3">
      <div className="bg-line h-1.5 w-28 overflow-hidden rounded-full" aria-hidden>
        <div className="bg-good h-full" style={{ width: `${(100 * settled) / total}%` }} />
      </div>
      <span className="text-quiet text-sm">
        {settled} of {total} steps
      </span>
    </div>
  );
}

function EmptyList({ onCreate }: { onCreate: () => void }): JSX.Element {
  const [loadDemo, { isLoading, error }] = useLoadDemoMutation();
  const first = useFirstRun();
  return (
    <section className="panel max-w-2xl p-8">
      <h2 className="text-xl">No tunes yet</h2>
      <p className="text-quiet mt-2">
        A tune is one job on one vehicle. Describe its chain, and Yield says which voltage each channel should show, what the reading means
        and whether it is clean under load.
      </p>
      <div className="mt-6 flex flex-wrap gap-3">
        <button type="button" className="btn btn-primary btn-tall" onClick={onCreate}>
          <Plus size={20} aria-hidden /> New tune
        </button>
        <button type="button" className="btn btn-tall" disabled={first.isBusy} onClick={() => void first.begin()}>
          <Flag size={18} aria-hidden /> A first run, five minutes
        </button>
        <button type="button" className="btn btn-tall" disabled={isLoading} onClick={() => void loadDemo()}>
          Load the demo tunes
        </button>
      </div>
      <p className="text-quiet mt-4 text-sm">
        The first run goes from an ohmmeter to one proved gain on a simulated bench. The demo is a made-up workshop with four jobs.
      </p>
      {first.fault !== undefined && (
        <div className="mt-4">
          <ErrorNotice>{first.fault}</ErrorNotice>
        </div>
      )}
      {error !== undefined && (
        <div className="mt-4">
          <ErrorNotice>{problemWords(error).text}</ErrorNotice>
        </div>
      )}
    </section>
  );
}

/** A tune from nothing, or with the chain and settings of another one. */
function NewTuneDialog({ like, onClose }: { like?: TuneListRow; onClose: () => void }): JSX.Element {
  const [create, { error: notCreated }] = useCreateTuneMutation();
  const [copy, { error: notCopied }] = useCopyTuneMutation();
  const [saveChain] = useSaveChainMutation();
  const [saveTune] = useSaveTuneMutation();
  const { data: gear = [] } = useListGearQuery(undefined, { skip: like !== undefined });
  const [picks, setPicks] = useState<Picks>({});
  const [left, setLeft] = useState<{ id: string; drivers: string[] }>();
  const error = notCreated ?? notCopied;
  const navigate = useNavigate();
  return (
    <Dialog title={like === undefined ? 'New tune' : `New tune like “${like.name}”`} onClose={onClose}>
      {like !== undefined && <p className="text-quiet mb-4">Its chain and house rules come along; nothing is measured yet.</p>}
      <RecordForm
        draftKey={`new-tune/${like?.id ?? ''}`}
        fields={NEW_TUNE_FIELDS}
        value={like === undefined ? { name: '', vehicle: '' } : { name: `${like.name}, copy`, vehicle: like.vehicle }}
        submitLabel="Start"
        onSubmit={async ({ name, vehicle }) => {
          const body = { id: newUuid(), name, vehicle };
          const result = await (like === undefined ? create(body) : copy({ id: like.id, body }));
          if (result.error !== undefined) return problemWords(result.error).faults;
          if (Object.keys(picks).length > 0) {
            const made = chainFromGear(pickedGear(gear, picks), result.data.chain.body, newId);
            const settings = pickedSettings(gear, picks, result.data.settings);
            if (settings !== undefined) {
              const kept = await saveTune({ id: body.id, body: { name, vehicle, version: result.data.version, settings } });
              if (kept.error !== undefined) return [{ pointer: '', message: problemWords(kept.error).text }];
            }
            const saved = await saveChain({ id: body.id, version: result.data.chain.version, chain: made.chain });
            if (saved.error !== undefined) return [{ pointer: '', message: problemWords(saved.error).text }];
            if (made.left.length > 0) {
              setLeft({ id: body.id, drivers: made.left });
              return [];
            }
          }
          await navigate(`/tunes/${result.data.id}/chain`);
          return [];
        }}
      />
      {like === undefined && left === undefined && (
        <Reveal summary="Pick its gear: source, amplifiers, drivers, instruments">
          <GearPicker picks={picks} onPick={setPicks} />
        </Reveal>
      )}
      {left !== undefined && (
        <div className="mt-4" role="status">
          <p>The tune is made. No amplifier has a channel left for {left.drivers.join(', ')}: enter it in the chain by hand.</p>
          <Link to={`/tunes/${left.id}/chain`} className="btn btn-primary btn-tall mt-3">
            To its chain
          </Link>
        </div>
      )}
      {error !== undefined && (
        <div className="mt-4">
          <ErrorNotice>{problemWords(error).text}</ErrorNotice>
        </div>
      )}
    </Dialog>
  );
}
