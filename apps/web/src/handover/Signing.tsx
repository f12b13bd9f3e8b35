import type { SignedSheet } from '@yield/contract';
import { sheetChanges, type OwnerSheet, type SheetChange } from '@yield/sheet';
import { useState, type JSX } from 'react';
import { newUuid } from '../api/newId.ts';
import { deviceName } from '../api/device.ts';
import { problemWords } from '../api/problem.ts';
import { useSignSheetMutation } from '../api/yieldApi.ts';
import type { TuneRun } from '../tune/useTuneRun.ts';
import { GradedLine } from '../ui/FindingLine.tsx';
import { ProvenanceLine } from './ProvenanceLine.tsx';
import { ErrorNotice } from '../ui/Notice.tsx';
import { useDraft } from '../ui/useDraft.ts';

interface Props {
  run: TuneRun;
  present: OwnerSheet;
  /** undefined while they are not known */
  issues: readonly SignedSheet[] | undefined;
  shown: number | undefined;
  onShow: (issue: number | undefined) => void;
}

/** Issues that were signed, what has changed since the last one, and the next signature. */
export function Signing({ run, present, issues, shown, onShow }: Props): JSX.Element {
  const last = issues?.at(-1);
  const since = last === undefined ? [] : sheetChanges(last.sheet, present);
  const { origin } = run.tune;
  return (
    <section className="space-y-5" aria-label="Signed issues">
      {origin !== undefined && (
        <ProvenanceLine what={`Imported on ${new Date(origin.at).toLocaleDateString()}, archive`} provenance={origin.provenance} />
      )}
      {last === undefined ? (
        <p className="text-quiet">
          {issues === undefined ? 'Signed sheets are kept on the server, which does not answer just now.' : 'Not signed yet.'}
        </p>
      ) : last.provenance.kind === 'altered' ? (
        <GradedLine
          grade="attention"
          text={`Issue ${last.issue} is not what was signed: ${last.provenance.what.join(', ')}.`}
          next="Do not hand it over. Sign the next one once the tune is as it should be."
        />
      ) : since.length === 0 ? (
        <GradedLine grade="good" text={`Issue ${last.issue} matches the tune.`} />
      ) : (
        <GradedLine
          grade="stale"
          text={`Issue ${last.issue} is superseded: ${since.length === 1 ? 'one line has' : `${since.length} lines have`} changed.`}
          next="Sign the next one, and hand that over."
        />
      )}
      {issues !== undefined && issues.length > 0 && (
        <ol className="divide-line border-line divide-y border-y">
          {[...issues].reverse().map((issue) => (
            <Issue
              key={issue.id}
              issue={issue}
              isShown={shown === issue.issue}
              onShow={() => onShow(shown === issue.issue ? undefined : issue.issue)}
              changes={sheetChanges(issue.sheet, issues.find((each) => each.issue === issue.issue + 1)?.sheet ?? present)}
            />
          ))}
        </ol>
      )}
      {issues !== undefined && (last === undefined || since.length > 0 || last.provenance.kind === 'altered') && (
        <SignForm run={run} isWhole={present.isWhole} next={(last?.issue ?? 0) + 1} />
      )}
    </section>
  );
}

function Issue({
  issue: { issue, signedBy, signedAt, leftOpen, provenance },
  isShown,
  onShow,
  changes,
}: {
  issue: SignedSheet;
  isShown: boolean;
  onShow: () => void;
  changes: readonly SheetChange[];
}): JSX.Element {
  const [isOpen, setOpen] = useState(false);
  return (
    <li className="py-3">
      <p className="font-medium">
        Issue {issue}, {signedBy}
      </p>
      <p className="text-quiet text-sm">
        <time dateTime={signedAt}>{new Date(signedAt).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })}</time>
        {leftOpen === '' ? '' : `. Left open: ${leftOpen}`}
      </p>
      <ProvenanceLine what="Signature" provenance={provenance} />
      <div className="mt-1 flex flex-wrap gap-2">
        <button type="button" className="btn btn-sm min-h-11" aria-pressed={isShown} onClick={onShow}>
          {isShown ? 'Back to the present one' : 'Look at it'}
        </button>
        {changes.length > 0 && (
          <button type="button" className="btn btn-sm min-h-11" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? 'Less' : 'What changed after it'}
          </button>
        )}
      </div>
      {isOpen && <Changes changes={changes} />}
    </li>
  );
}

/** Two sheets side by side, line by line where they differ. */
const Changes = ({ changes }: { changes: readonly SheetChange[] }): JSX.Element => (
  <ul className="mt-2 space-y-2 text-sm">
    {changes.map(({ what, before, after }, k) => (
      <li key={k} className="min-w-0">
        <p className="text-quiet">{what}</p>
        <div className="grid grid-cols-2 gap-3">
          <p className="break-words line-through">{before === '' ? '–' : before}</p>
          <p className="font-medium break-words">{after === '' ? '–' : after}</p>
        </div>
      </li>
    ))}
  </ul>
);

function SignForm({ run, isWhole, next }: { run: TuneRun; isWhole: boolean; next: number }): JSX.Element {
  const [name, setName] = useDraft('sign/name', deviceName());
  const [leftOpen, setLeftOpen] = useDraft(`sign/open/${run.tune.id}`);
  const [sign, { isLoading, error }] = useSignSheetMutation();
  const [fault, setFault] = useState<string>();
  const submit = async (): Promise<void> => {
    const missing =
      name.trim() === ''
        ? 'Who signs it?'
        : !isWhole && leftOpen.trim() === ''
          ? 'Something is still open: say what was left, and why.'
          : run.unsentIds.size > 0
            ? 'Some entries are still on this device alone. Wait until they are stored, then sign.'
            : undefined;
    setFault(missing);
    if (missing !== undefined) return;
    const body = { id: newUuid(), seen: run.tune.changes, signedBy: name.trim(), leftOpen: leftOpen.trim() };
    const result = await sign({ id: run.tune.id, body });
    if (result.error === undefined) setLeftOpen(null);
  };
  return (
    <form
      className="panel space-y-3"
      aria-label={`Sign issue ${next}`}
      onSubmit={(event) => {
        event.preventDefault();
        void submit();
      }}
    >
      <h2 className="font-semibold">Sign issue {next}</h2>
      <label className="block">
        <span className="label mb-1 block">Name</span>
        <input className="input min-h-11 w-full" maxLength={100} value={name} onChange={(event) => setName(event.target.value)} />
      </label>
      <label className="block">
        <span className="label mb-1 block">What is left open, and why{isWhole ? ' (if anything)' : ''}</span>
        <textarea
          className="textarea min-h-20 w-full"
          maxLength={1000}
          value={leftOpen}
          onChange={(event) => setLeftOpen(event.target.value)}
        />
      </label>
      <p className="text-quiet text-sm">A signed issue never changes. Later changes supersede it and make the next issue.</p>
      {fault !== undefined && (
        <p role="alert" className="text-stop">
          {fault}
        </p>
      )}
      {error !== undefined && <ErrorNotice>{problemWords(error).text}</ErrorNotice>}
      <button type="submit" className="btn btn-primary btn-tall w-full" disabled={isLoading}>
        Sign
      </button>
    </form>
  );
}
