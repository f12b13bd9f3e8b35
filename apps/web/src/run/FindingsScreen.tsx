import { findingKey } from '../ui/findingKey.ts';
import { tuneFindings, type TuneFinding } from '@yield/core';
import type { JSX } from 'react';
import { Link, useParams } from 'react-router';
import { useTuneRun, type TuneRun } from '../tune/useTuneRun.ts';
import { FindingLine } from '../ui/FindingLine.tsx';

const GROUPS = [
  { grade: 'stop', heading: 'Stop' },
  { grade: 'attention', heading: 'Needs attention' },
  { grade: 'stale', heading: 'No longer counts' },
] as const;

/** Everything that is wrong with the tune in one list, worst first, each with the way to where it is mended. */
export default function FindingsScreen(): JSX.Element | null {
  const { tuneId = '' } = useParams();
  const run = useTuneRun(tuneId);
  if (run === null) return null;
  const found = tuneFindings(run.steps);
  const open = run.steps.filter(({ isSettled, state }) => !isSettled && state.status === 'open').length;
  return (
    <main className="min-w-0 flex-1 space-y-8 px-6 py-6 max-sm:px-4">
      <header>
        <h1 className="text-2xl">Findings</h1>
        <p className="text-quiet mt-1 max-w-2xl">
          {found.length === 0 ? 'No faults found so far.' : 'Worst first, each with the step where you fix it.'}
          {open > 0 && ` ${open === 1 ? 'One step is' : `${open} steps are`} still open and not judged yet.`}
        </p>
        {open > 0 && (
          <Link to={`/tunes/${tuneId}/finished`} className="text-action inline-flex min-h-11 items-center font-medium hover:underline">
            Run status
          </Link>
        )}
      </header>
      {GROUPS.map(({ grade, heading }) => {
        const own = found.filter(({ finding }) => finding.grade === grade);
        if (own.length === 0) return null;
        return (
          <section key={grade} aria-label={heading} className="max-w-4xl">
            <h2 className="text-lg">
              {heading} <span className="text-quiet font-normal">{own.length}</span>
            </h2>
            <ul className="divide-line border-line mt-2 divide-y border-y">
              {own.map((item) => (
                <Found key={findingKey(item.finding)} item={item} run={run} tuneId={tuneId} />
              ))}
            </ul>
          </section>
        );
      })}
    </main>
  );
}

function Found({ item: { finding, steps }, run, tuneId }: { item: TuneFinding; run: TuneRun; tuneId: string }): JSX.Element {
  const { action } = finding;
  // Where it is mended: the step that the move leads to, else the first that it stands at.
  const mending = (action?.kind === 'go' ? run.steps.find(({ id }) => id === action.to) : undefined) ?? steps[0];
  const others = steps.filter((step) => step !== mending);
  return (
    <li className="grid gap-x-6 gap-y-1 py-3 lg:grid-cols-[minmax(0,1fr)_17rem]">
      <FindingLine finding={finding} />
      <div className="max-lg:pl-8">
        {mending !== undefined && (
          <Link to={`/tunes/${tuneId}/run/${mending.id}`} className="text-action flex min-h-11 items-center font-medium hover:underline">
            {mending.title}
          </Link>
        )}
        {others.length > 0 && (
          <p className="text-quiet text-sm leading-snug">
            {others.length === 1 ? 'One more step depends on it.' : `${others.length} more steps depend on it.`}
          </p>
        )}
      </div>
    </li>
  );
}
