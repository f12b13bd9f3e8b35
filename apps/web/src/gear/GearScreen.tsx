import type { GearRow } from '@yield/contract';
import { GEAR_NAMES, gearRows, type GearKind } from '@yield/core';
import { Download, FileUp, Plus } from 'lucide-react';
import Papa from 'papaparse';
import { useRef, useState, type JSX } from 'react';
import { useSearchParams } from 'react-router';
import { problemWords } from '../api/problem.ts';
import { useListGearQuery } from '../api/yieldApi.ts';
import { Loading } from '../ui/Loading.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { saveFile } from '../ui/saveFile.ts';
import { useTitle } from '../ui/useTitle.ts';
import { GearCsvDialog } from './GearCsvDialog.tsx';
import { GearDialog, type EditedGear } from './GearDialog.tsx';
import { figureWords, gearWords } from './gearWords.ts';

const KINDS = Object.keys(GEAR_NAMES) as GearKind[];
type Shown = GearKind | 'all';

/** Every piece of gear of the shop: its figures, where it is, and what was measured on it. */
export default function GearScreen(): JSX.Element {
  const { data: gear, error } = useListGearQuery(undefined, { refetchOnMountOrArgChange: true });
  const [params, setParams] = useSearchParams();
  const [kind, setKind] = useState<Shown>('all');
  const [edited, setEdited] = useState<EditedGear>();
  const [csv, setCsv] = useState<string>();
  const [fault, setFault] = useState<string>();
  const file = useRef<HTMLInputElement>(null);
  useTitle('Gear');
  const sought = params.get('find') ?? '';
  if (gear === undefined) return error === undefined ? <Loading what="the gear" /> : <Failed words={problemWords(error).text} />;
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const shown = gear.filter(
    (row) =>
      (kind === 'all' || row.kind === kind) &&
      words.every((word) => `${row.name} ${gearWords(row)} ${row.tunes.join(' ')}`.toLowerCase().includes(word)),
  );
  return (
    <main className="mx-auto w-full max-w-5xl px-6 py-8">
      <div className="mb-5 flex flex-wrap items-center justify-between gap-4">
        <h1 className="text-3xl">Gear</h1>
        <div className="flex flex-wrap gap-3">
          <button
            type="button"
            className="btn btn-tall"
            onClick={() => saveFile(Papa.unparse(gearRows(gear), { escapeFormulae: true }), 'gear.csv', 'text/csv')}
          >
            <Download size={18} aria-hidden /> CSV
          </button>
          <button type="button" className="btn btn-tall" onClick={() => file.current?.click()}>
            <FileUp size={18} aria-hidden /> From CSV
          </button>
          <button
            type="button"
            className="btn btn-primary btn-tall"
            onClick={() => setEdited({ kind: kind === 'all' ? 'amplifier' : kind })}
          >
            <Plus size={20} aria-hidden /> New gear
          </button>
        </div>
        <input
          ref={file}
          type="file"
          className="sr-only"
          tabIndex={-1}
          aria-label="Gear as CSV"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            event.target.value = '';
            if (chosen === undefined) return;
            setFault(chosen.size > MAX_BYTES ? 'This file is longer than any list of gear.' : undefined);
            if (chosen.size <= MAX_BYTES) void chosen.text().then(setCsv);
          }}
        />
      </div>
      <div className="mb-4 flex flex-wrap items-end gap-4">
        <input
          type="search"
          className="input min-h-11 w-64"
          placeholder="Find gear"
          aria-label="Find gear"
          value={sought}
          onChange={(event) => setParams(event.target.value === '' ? {} : { find: event.target.value }, { replace: true })}
        />
        <select className="select min-h-11 w-48" aria-label="Kind" value={kind} onChange={(event) => setKind(event.target.value as Shown)}>
          <option value="all">All kinds</option>
          {KINDS.map((value) => (
            <option key={value} value={value}>
              {GEAR_NAMES[value]}s
            </option>
          ))}
        </select>
      </div>
      {fault !== undefined && <ErrorNotice>{fault}</ErrorNotice>}
      {shown.length === 0 ? (
        <p className="text-quiet py-6">
          {gear.length === 0 ? 'No gear yet: it comes with the first tune’s chain, or is added here.' : 'No gear fits that.'}
        </p>
      ) : (
        <ul className="divide-line border-line divide-y border-y">
          {shown.map((row) => (
            <Row key={`${row.kind} ${row.id}`} row={row} onEdit={() => setEdited(row)} />
          ))}
        </ul>
      )}
      {edited !== undefined && <GearDialog gear={edited} onClose={() => setEdited(undefined)} />}
      {csv !== undefined && <GearCsvDialog text={csv} gear={gear} onClose={() => setCsv(undefined)} />}
    </main>
  );
}

const MAX_BYTES = 2_000_000;

const Failed = ({ words }: { words: string }): JSX.Element => (
  <main className="mx-auto w-full max-w-2xl p-6">
    <ErrorNotice>The gear is kept on the server, and cannot be read without it. {words}</ErrorNotice>
  </main>
);

function Row({ row, onEdit }: { row: GearRow; onEdit: () => void }): JSX.Element {
  const { kind, name, tunes, figures, version } = row;
  return (
    <li className="grid gap-x-6 gap-y-1 py-4 md:grid-cols-[minmax(0,1fr)_minmax(0,1fr)_auto]">
      <div className="min-w-0">
        <h2 className="text-lg leading-snug break-words">{name}</h2>
        <p className="text-quiet text-sm">
          {GEAR_NAMES[kind]}
          {version > 0 ? ', in the library' : ''}
        </p>
        <p className="mt-1 text-sm">{gearWords(row)}</p>
      </div>
      <div className="min-w-0 text-sm">
        <p className="text-quiet">
          {tunes.length === 0 ? 'In no tune yet' : tunes.slice(0, 3).join(', ') + (tunes.length > 3 ? ` and ${tunes.length - 3} more` : '')}
        </p>
        <ul>
          {figures.slice(0, 4).map((figure, k) => (
            <li key={k}>
              <span className="font-medium">{figureWords(figure)}</span>{' '}
              <span className="text-quiet">
                {figure.what}, {figure.tune}
              </span>
            </li>
          ))}
        </ul>
      </div>
      <button type="button" className="btn self-start" onClick={onEdit} aria-label={`${version > 0 ? 'Change' : 'Keep'} ${name}`}>
        {version > 0 ? 'Edit' : 'Save to library'}
      </button>
    </li>
  );
}
