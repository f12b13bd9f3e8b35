import { say } from '@yield/words';
import { originWords, ownerSheet, sheetChanges, sheetPage, signedSheetWords, type OwnerSheet } from '@yield/sheet';
import { FileDown, FileText, Printer } from 'lucide-react';
import { useRef, useState, type JSX } from 'react';
import { useParams } from 'react-router';
import { useListSheetsQuery } from '../api/yieldApi.ts';
import { useTuneRun } from '../tune/useTuneRun.ts';
import { saveFile } from '../ui/saveFile.ts';
import { useTitle } from '../ui/useTitle.ts';
import { Signing } from './Signing.tsx';

const USUAL_HEIGHT = 900;

/** What the owner takes home, as it will be printed; signed issues of it, and what has changed since. */
export default function SheetScreen(): JSX.Element | null {
  const { tuneId = '' } = useParams();
  const run = useTuneRun(tuneId);
  const { data: issues } = useListSheetsQuery(tuneId, { refetchOnMountOrArgChange: true });
  const frame = useRef<HTMLIFrameElement>(null);
  const [height, setHeight] = useState(USUAL_HEIGHT);
  const [shownIssue, setShown] = useState<number>();
  // The hour in which the screen was opened: a page that is looked at does not change by itself.
  const [madeAt] = useState(() => new Date().toISOString());
  useTitle(run === null ? undefined : `Owner’s sheet · ${run.tune.name}`);
  if (run === null) return null;
  const { name, vehicle, origin } = run.tune;
  const present: OwnerSheet = ownerSheet(
    run.now,
    run.steps,
    { job: name, vehicle, madeAt, ...(origin === undefined ? {} : { origin: originWords(origin) }) },
    say,
  );
  const shown = issues?.find(({ issue }) => issue === shownIssue);
  const signedWords = shown === undefined ? '' : signedSheetWords(shown.provenance);
  const page = sheetPage(shown === undefined ? present : signedWords === '' ? shown.sheet : { ...shown.sheet, origin: signedWords });
  const last = issues?.at(-1);
  const isSuperseded = last !== undefined && sheetChanges(last.sheet, present).length > 0;
  return (
    <main className="min-w-0 flex-1 px-6 py-5 max-sm:px-4">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1 className="text-2xl">Owner’s sheet</h1>
          <p className="text-quiet mt-1 max-w-prose leading-snug">
            {shown === undefined
              ? 'How loud it may be played, what to leave alone, and what was set. It says no more than was measured.'
              : `Issue ${shown.issue}, as signed${shown !== last || isSuperseded ? '. It no longer matches the tune.' : '.'}`}
          </p>
        </div>
        <div className="flex flex-wrap gap-3">
          <button type="button" className="btn btn-primary btn-tall" onClick={() => frame.current?.contentWindow?.print()}>
            <Printer size={20} aria-hidden /> Print
          </button>
          <PdfLink tuneId={tuneId} paper="a4" words="PDF, A4" issue={shown?.issue} />
          <PdfLink tuneId={tuneId} paper="letter" words="PDF, Letter" issue={shown?.issue} />
          <PdfLink tuneId={tuneId} paper="card" words="Glovebox card" issue={shown?.issue} />
          <button type="button" className="btn btn-tall" onClick={() => saveFile(page, `${fileName(name)}.html`, 'text/html')}>
            <FileDown size={20} aria-hidden /> Save as a page
          </button>
        </div>
      </div>
      <div className="grid items-start gap-6 xl:grid-cols-[minmax(0,1fr)_20rem]">
        <iframe
          ref={frame}
          title="Owner’s sheet as it will be printed"
          srcDoc={page}
          // Without scripts: it is looked at and printed, no more.
          sandbox="allow-same-origin allow-modals"
          className="border-line w-full max-w-4xl rounded-md border bg-white max-xl:order-2"
          style={{ height }}
          onLoad={(event) => {
            const body = event.currentTarget.contentDocument?.body;
            if (body === undefined) return;
            // As high as what it holds, folded or unfolded; it goes with its document.
            new ResizeObserver(() => setHeight(body.ownerDocument.documentElement.getBoundingClientRect().height + 4)).observe(body);
          }}
        />
        <Signing run={run} present={present} issues={issues} shown={shownIssue} onShow={setShown} />
      </div>
    </main>
  );
}

/** Made on the server, as what is stored there stands. */
const PdfLink = ({
  tuneId,
  paper,
  words,
  issue,
}: {
  tuneId: string;
  paper: string;
  words: string;
  issue: number | undefined;
}): JSX.Element => (
  <a
    className="btn btn-tall"
    href={`/api/v1/tunes/${tuneId}/sheet.pdf?paper=${paper}${issue === undefined ? '' : `&issue=${issue}`}`}
    download
  >
    <FileText size={20} aria-hidden /> {words}
  </a>
);

const fileName = (job: string): string => `${job.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'sheet'}-owner`;
