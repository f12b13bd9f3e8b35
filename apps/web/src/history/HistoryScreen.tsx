import type { HistoryRow, TuneDetail } from '@yield/contract';
import { kindOfStep } from '@yield/core';
import { FileText, RotateCcw } from 'lucide-react';
import { useState, type JSX } from 'react';
import { Link, useParams } from 'react-router';
import { problemWords } from '../api/problem.ts';
import { HISTORY_PAGE, useReadHistoryQuery, useReadRevisionQuery } from '../api/yieldApi.ts';
import { deviceName, nameDevice } from '../api/device.ts';
import { useEditChain } from '../tune/useEdit.ts';
import { useTune } from '../tune/useTuneRun.ts';
import { differences } from '../ui/differences.ts';
import { Loading } from '../ui/Loading.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { PartBoundary } from '../ui/PartBoundary.tsx';
import { differencesOfChanges } from './changeWords.ts';
import { rowWords } from './rowWords.ts';

/** Everything that was changed on a tune: when, by whom, and what it was before. */
export default function HistoryScreen(): JSX.Element {
  const { tuneId = '' } = useParams();
  const tune = useTune(tuneId);
  return tune === undefined ? <Loading what="the history" /> : <HistoryOf tune={tune} />;
}

function HistoryOf({ tune }: { tune: TuneDetail }): JSX.Element {
  const [pages, setPages] = useState<readonly (number | undefined)[]>([undefined]);
  const [of, setOf] = useState('');
  const stepIds = [...new Set([...tune.readings, ...tune.traces, ...tune.marks].map(({ stepId }) => stepId))].sort();
  return (
    <main className="min-w-0 flex-1 px-6 py-6 max-sm:px-4">
      <div className="flex flex-wrap items-end justify-between gap-x-8 gap-y-3">
        <div>
          <h1 className="text-2xl">History</h1>
          <p className="text-quiet mt-1 max-w-2xl">Every change that was stored, the newest first. Nothing here is ever written over.</p>
        </div>
        <div className="flex flex-wrap items-end gap-4">
          <label className="block w-56">
            <span className="label">Only of</span>
            <select className="select mt-1 min-h-11 w-full" value={of} onChange={(event) => setOf(event.target.value)}>
              <option value="">everything</option>
              <option value="chain">the chain</option>
              {stepIds.map((stepId) => (
                <option key={stepId} value={stepId}>
                  {stepWords(stepId, tune)}
                </option>
              ))}
            </select>
          </label>
          <Link to={`/tunes/${tune.id}/sheet`} className="btn btn-tall">
            <FileText size={20} aria-hidden /> Owner’s sheet
          </Link>
          <DeviceName />
        </div>
      </div>
      <div className="mt-6 max-w-4xl">
        {pages.map((before, i) => (
          <Page
            key={before ?? 'newest'}
            tune={tune}
            before={before}
            of={of}
            onOlder={i === pages.length - 1 ? (change) => setPages([...pages, change]) : undefined}
          />
        ))}
      </div>
    </main>
  );
}

/** How others see who changed something. */
function DeviceName(): JSX.Element {
  const [name, setName] = useState(deviceName);
  return (
    <label className="block w-64">
      <span className="label">Name on this device</span>
      <input
        className="input mt-1 min-h-11 w-full"
        value={name}
        maxLength={60}
        placeholder="Who changes things here"
        onChange={(event) => {
          setName(event.target.value);
          nameDevice(event.target.value);
        }}
      />
    </label>
  );
}

function Page({
  tune,
  before,
  of,
  onOlder,
}: {
  tune: TuneDetail;
  before: number | undefined;
  /** a step, the chain, or everything */
  of: string;
  onOlder: ((change: number) => void) | undefined;
}): JSX.Element {
  const { currentData, data, error, refetch } = useReadHistoryQuery(
    // The newest page is read again with every change; what is older stays as it is.
    { id: tune.id, changes: before === undefined ? tune.changes : 0, ...(before === undefined ? {} : { before }) },
    { refetchOnMountOrArgChange: before === undefined },
  );
  const rows = currentData ?? data;
  if (rows === undefined) {
    if (error === undefined) return <Loading what="the history" />;
    return (
      <ErrorNotice>
        <p>The history is kept on the server, and cannot be read without it. {problemWords(error).text}</p>
        <button type="button" className="btn btn-sm mt-3" onClick={() => void refetch()}>
          Try again
        </button>
      </ErrorNotice>
    );
  }
  const shown = rows.filter((row) => of === '' || (of === 'chain' ? row.kind === 'chain' : stepOf(row, tune) === of));
  return (
    <>
      {rows.length === 0 && before === undefined && <p className="text-quiet">Nothing was changed since the history is kept.</p>}
      <ol className="divide-line border-line divide-y border-b">
        {shown.map((row, i) => (
          <PartBoundary key={row.id} what={`an entry of ${row.at.slice(0, 16).replace('T', ' ')}`}>
            <Entry tune={tune} row={row} day={dayOf(row) === dayOf(shown[i - 1]) ? undefined : dayOf(row)} />
          </PartBoundary>
        ))}
      </ol>
      {onOlder !== undefined && rows.length === HISTORY_PAGE && (
        <button type="button" className="btn btn-tall mt-4" onClick={() => onOlder(rows.at(-1)!.change)}>
          Older ones
        </button>
      )}
    </>
  );
}

const dayOf = (row: HistoryRow | undefined): string | undefined =>
  row === undefined
    ? undefined
    : new Date(row.at).toLocaleDateString(undefined, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' });

function Entry({ tune, row, day }: { tune: TuneDetail; row: HistoryRow; day: string | undefined }): JSX.Element {
  const [open, setOpen] = useState(false);
  const stepId = stepOf(row, tune);
  const { title, detail } = rowWords(row, tune);
  const at = new Date(row.at);
  return (
    <li className="py-2">
      {day !== undefined && <h2 className="text-quiet mt-3 mb-2 text-base font-medium">{day}</h2>}
      <div className="grid grid-cols-[4.5rem_minmax(0,1fr)_auto] items-baseline gap-x-4">
        <time className="text-quiet tabular-nums" dateTime={row.at}>
          {at.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit' })}
        </time>
        <div className="min-w-0">
          <p className="font-medium">
            {title}
            {stepId !== undefined && (
              <>
                {', '}
                <Link className="text-action hover:underline" to={`/tunes/${tune.id}/run/${stepId}`}>
                  {stepWords(stepId, tune)}
                </Link>
              </>
            )}
          </p>
          <p className="text-quiet text-sm">
            {[detail, row.who, `chain as of revision ${row.chainVersion}`].filter((part) => part !== undefined && part !== '').join(' · ')}
          </p>
          {open && <Opened tune={tune} row={row} />}
          {open && tune.chain.version !== row.chainVersion && <BackTo tune={tune} version={row.chainVersion} />}
        </div>
        {(row.kind === 'chain' || row.kind === 'tune' || row.kind === 'reading' || row.kind === 'capture') && (
          <button type="button" className="btn btn-sm min-h-11" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Less' : row.kind === 'reading' || row.kind === 'capture' ? 'Show chain at this point' : 'What changed'}
          </button>
        )}
      </div>
    </li>
  );
}

/** What changed; of a reading or a capture, what has changed of the chain since. */
function Opened({ tune, row }: { tune: TuneDetail; row: HistoryRow }): JSX.Element {
  if (row.kind === 'chain') return <ChainChanges id={tune.id} version={row.chainVersion} />;
  if (row.kind === 'tune') return <Changes row={row} />;
  return <SinceThen tune={tune} version={row.chainVersion} />;
}

/** The chain as it was against the present one. */
function SinceThen({ tune, version }: { tune: TuneDetail; version: number }): JSX.Element {
  const { data, error } = useReadRevisionQuery({ id: tune.id, version });
  if (data === undefined)
    return error === undefined ? <Loading what="the chain" /> : <p className="text-stop mt-2">{problemWords(error).text}</p>;
  const rows = differences(tune.chain.body, data.body);
  return rows.length === 0 ? (
    <p className="text-quiet mt-2">The chain is unchanged since then.</p>
  ) : (
    <Table rows={rows} heads={['Then', 'Now']} />
  );
}

/** The chain as it was at a revision, as one more change: nothing of the record is lost. */
function BackTo({ tune, version }: { tune: TuneDetail; version: number }): JSX.Element | null {
  const { data } = useReadRevisionQuery({ id: tune.id, version });
  const { edit } = useEditChain(tune);
  const [words, setWords] = useState<string>();
  if (data === undefined || differences(tune.chain.body, data.body).length === 0) return null;
  const goBack = async (): Promise<void> => {
    const faults = await edit(data.body);
    setWords(faults[0]?.message ?? 'The chain is as it was then.');
  };
  return (
    <p className="mt-2 flex flex-wrap items-center gap-3">
      <button type="button" className="btn btn-sm min-h-11" onClick={() => void goBack()}>
        <RotateCcw size={16} aria-hidden /> Back to this chain
      </button>
      <span className="text-quiet text-sm" role="status">
        {words ?? 'This is recorded as another change. Readings taken with another chain become stale or valid again.'}
      </span>
    </p>
  );
}

function stepOf({ kind, subject, body }: HistoryRow, tune: TuneDetail): string | undefined {
  if (kind === 'mark') return subject;
  if (kind === 'reading' || kind === 'capture') return typeof body.stepId === 'string' ? body.stepId : undefined;
  return [...tune.readings, ...tune.traces].find(({ id }) => id === subject)?.stepId;
}

function stepWords(stepId: string, { chain }: TuneDetail): string {
  const key = stepId.slice(stepId.indexOf(':') + 1);
  const title = (kindOfStep(stepId)?.title ?? stepId).toLowerCase();
  const channel = chain.body.channels.find(({ id }) => id === key);
  return channel === undefined ? title : `${title} of ${channel.name}`;
}

/** The chain before and after, field by field. */
function ChainChanges({ id, version }: { id: string; version: number }): JSX.Element {
  const before = useReadRevisionQuery({ id, version: version - 1 });
  const after = useReadRevisionQuery({ id, version });
  if (before.data !== undefined && after.data !== undefined) return <Table rows={differences(after.data.body, before.data.body)} />;
  const error = before.error ?? after.error;
  return error === undefined ? <Loading what="the change" /> : <p className="text-stop mt-2">{problemWords(error).text}</p>;
}

const Changes = ({ row }: { row: HistoryRow }): JSX.Element => <Table rows={differencesOfChanges(row.body.changes)} />;

function Table({
  rows,
  heads = ['Before', 'After'],
}: {
  rows: readonly { path: string; mine: string; theirs: string }[];
  heads?: readonly [string, string];
}): JSX.Element {
  if (rows.length === 0) return <p className="text-quiet mt-2">Nothing that can be seen.</p>;
  return (
    <table className="mt-2 mb-1 w-full text-left text-sm">
      <thead>
        <tr className="text-quiet">
          <th className="py-1 pr-4 font-medium">Field</th>
          <th className="py-1 pr-4 font-medium">{heads[0]}</th>
          <th className="py-1 font-medium">{heads[1]}</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ path, mine, theirs }) => (
          <tr key={path} className="border-line border-t align-top">
            <td className="text-quiet py-1.5 pr-4">{path}</td>
            <td className="py-1.5 pr-4">{theirs}</td>
            <td className="py-1.5 font-medium">{mine}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
