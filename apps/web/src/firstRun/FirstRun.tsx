import type { RunStep } from '@yield/core';
import { Flag, X } from 'lucide-react';
import { useState, type JSX } from 'react';
import { Link } from 'react-router';
import type { TuneRun } from '../tune/useTuneRun.ts';
import { firstRunPath } from './firstRunPath.ts';
import { useFirstRunNow } from './useFirstRun.ts';

/** What to do at each kind of step, and why it comes first. */
const WORDS: Readonly<Record<string, string>> = {
  whole:
    'Everything is off and the ohmmeter is across the two wires, to find wiring faults before power does. Press b: the bench simulates car and meter. Touch its probes together to read the leads, then type what its meter shows for the wiring and press Enter.',
  hookup: 'Before power on: check each item and tick it. The key a ticks them all.',
  flat: 'Any boost in the source comes before everything else, so set it flat first. Tick each item; a ticks them all.',
  ceiling:
    'How far up does the source stay clean? Type what the bench’s meter shows at the volume that is named, and say what its picture looks like; then the next volume.',
  filters: 'No driver gets a tone before its filters are confirmed. This one has none: confirm that.',
  gain: 'Tick the checks with a. The target is the voltage to set: turn the bench’s gain knob until its meter shows it, type every digit and press Enter. If it is off target, Yield says by how much.',
  proof:
    'The proof: is it still clean under load? Tick the checks, type what the bench’s meter shows, then save a scope capture and drop the file here.',
};

/** Above the steps of a first run: where it stands, what to do here, and what comes next. */
export default function FirstRun({ run, current }: { run: TuneRun; current: RunStep }): JSX.Element | null {
  const [now, setNow] = useFirstRunNow();
  // When it was last looked at; a clock that ran on would move under the eye.
  const [seenAt] = useState(() => Date.now());
  if (now?.tuneId !== run.tune.id) return null;
  const path = firstRunPath(run.steps, current);
  if (path === undefined) return null;
  const { done, of, next, isOnPath } = path;
  const isProved = next === undefined;
  const isDone = current.state.status === 'done';
  const minutes = Math.max(1, Math.round((seenAt - now.beganAt) / 60_000));
  return (
    <section className="bg-raised flex items-start gap-3 rounded-lg px-4 py-3" aria-label="First run">
      <Flag className="text-action mt-0.5 shrink-0" size={20} aria-hidden />
      <div className="min-w-0 flex-1">
        <p className="font-semibold">
          {isProved ? `A proved gain, after ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}` : `First run, ${done} of ${of} done`}
        </p>
        <p className="leading-snug" aria-live="polite">
          {isProved
            ? 'That is the whole way for one channel: load, source, gain, proof under load. A car has more channels, and goes the same way.'
            : isDone
              ? `This one is done. Next: ${next.title}.`
              : !isOnPath
                ? `This step is not needed for a first gain. Next: ${next.title}.`
                : (WORDS[current.kind.kind] ?? current.kind.help)}
        </p>
        {isProved ? (
          <Link
            to="/"
            className="text-action mt-1 inline-flex min-h-11 items-center font-medium hover:underline"
            onClick={() => setNow(undefined)}
          >
            To the tunes, and a tune of your own
          </Link>
        ) : (
          (isDone || !isOnPath) && (
            <Link
              to={`/tunes/${run.tune.id}/run/${next.id}`}
              className="text-action mt-1 inline-flex min-h-11 items-center font-medium hover:underline"
            >
              What is next
            </Link>
          )
        )}
      </div>
      <button type="button" className="btn btn-ghost btn-square -my-1" aria-label="Leave the first run" onClick={() => setNow(undefined)}>
        <X size={18} aria-hidden />
      </button>
    </section>
  );
}
