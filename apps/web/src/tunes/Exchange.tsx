import type { BroughtIn } from '@yield/contract';
import { Download, FileUp } from 'lucide-react';
import { useRef, useState, type JSX } from 'react';
import { Link } from 'react-router';
import { ErrorNotice } from '../ui/Notice.tsx';
import { ProvenanceLine } from '../handover/ProvenanceLine.tsx';
import { sendArchive, type Sending } from './sendArchive.ts';

const OUTCOMES: Record<BroughtIn['outcome'], string> = {
  restored: 'brought in',
  copied: 'brought in as a copy: another state of it is here',
  'already here': 'here already: nothing was done',
};

/** Tunes as one file for safekeeping or another shop, and such a file brought in. */
export function Exchange({ hasTunes, onBroughtIn }: { hasTunes: boolean; onBroughtIn: () => void }): JSX.Element {
  const input = useRef<HTMLInputElement>(null);
  const sending = useRef<Sending>(undefined);
  const [share, setShare] = useState<number>();
  const [outcome, setOutcome] = useState<{ rows: BroughtIn[] } | { faults: string[] }>();
  const bringIn = async (file: File): Promise<void> => {
    setOutcome(undefined);
    setShare(0);
    sending.current = sendArchive(file, setShare);
    const result = await sending.current.done;
    sending.current = undefined;
    setShare(undefined);
    if (result === 'cancelled') return;
    setOutcome(result);
    if ('rows' in result) onBroughtIn();
  };
  return (
    <section className="mt-8" aria-label="Archives">
      <div className="flex flex-wrap items-center gap-3">
        {hasTunes && (
          <a href="/api/v1/export.zip" download className="btn btn-tall">
            <Download size={18} aria-hidden /> All tunes as one archive
          </a>
        )}
        <button type="button" className="btn btn-tall" disabled={share !== undefined} onClick={() => input.current?.click()}>
          <FileUp size={18} aria-hidden /> Bring an archive in
        </button>
        <input
          ref={input}
          type="file"
          className="sr-only"
          tabIndex={-1}
          aria-label="Archive file"
          accept=".zip,application/zip"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file !== undefined) void bringIn(file);
          }}
        />
        {share !== undefined && (
          <div className="flex items-center gap-3" role="status">
            <progress className="progress w-40" value={share < 1 ? share : undefined} max={1} aria-label="Bringing in" />
            <span>{share < 1 ? `${Math.round(100 * share)} % sent` : 'Being looked through …'}</span>
            <button type="button" className="btn" onClick={() => sending.current?.cancel()}>
              Cancel
            </button>
          </div>
        )}
      </div>
      {outcome !== undefined && 'rows' in outcome && (
        <ul className="mt-3" role="status">
          {outcome.rows.map(({ id, name, outcome: what, provenance }) => (
            <li key={id}>
              <Link to={`/tunes/${id}`} className="text-action font-medium hover:underline">
                {name}
              </Link>{' '}
              <span className="text-quiet">{OUTCOMES[what]}</span>
              {provenance !== undefined && <ProvenanceLine what="Archive" provenance={provenance} />}
            </li>
          ))}
        </ul>
      )}
      {outcome !== undefined && 'faults' in outcome && (
        <div className="mt-3 max-w-2xl">
          <ErrorNotice>
            <p className="font-medium">Nothing was imported.</p>
            {outcome.faults.slice(0, 4).map((words) => (
              <p key={words} className="mt-0.5 break-words">
                {words}
              </p>
            ))}
          </ErrorNotice>
        </div>
      )}
    </section>
  );
}
