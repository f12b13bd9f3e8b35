import { blindWords, type HeardEntry } from '@yield/core';
import { useState, type JSX } from 'react';
import { useDraft } from '../../ui/useDraft.ts';

type Result = NonNullable<HeardEntry['blind']>;
type Side = 'A' | 'B';

/** Fewer are settled by luck. */
const TRIALS = 10;

/** Two presets told apart by ear alone: a helper calls what is asked for, the listener says which it was. */
export function Blind({ tuneId, onDone }: { tuneId: string; onDone: (result: Result) => Promise<boolean> }): JSX.Element {
  const [first, setFirst] = useDraft(`blind-a/${tuneId}`, 'with the change');
  const [second, setSecond] = useDraft(`blind-b/${tuneId}`, 'without it');
  const [trials, setTrials] = useState<{ called: Side; said?: Side }[]>([]);
  const [fault, setFault] = useState<string>();
  const said = trials.filter((trial) => trial.said !== undefined);
  const right = said.filter((trial) => trial.said === trial.called).length;
  const open = trials.at(-1);
  const isAsking = open !== undefined && open.said === undefined;
  const isDone = said.length >= TRIALS && !isAsking;
  const call = (): void => setTrials([...trials, { called: randomSide() }]);
  const answer = (side: Side): void => setTrials(trials.map((trial, k) => (k === trials.length - 1 ? { ...trial, said: side } : trial)));
  const keep = async (): Promise<void> => {
    if (await onDone({ first: first.trim(), second: second.trim(), right, trials: said.length })) setTrials([]);
  };
  return (
    <div className="max-w-2xl space-y-3" data-testid="blind">
      <p className="text-quiet text-sm">
        Store both settings as presets of the processor, equally loud. A helper holds this screen and calls the preset that it shows; you
        hear A, B and then the one that was called, and say which it was. {TRIALS} times.
      </p>
      <div className="grid gap-3 sm:grid-cols-2">
        {(
          [
            ['A', first, setFirst],
            ['B', second, setSecond],
          ] as const
        ).map(([side, text, set]) => (
          <label key={side}>
            <span className="label mb-1 block">Preset {side}</span>
            <input
              className="input min-h-11 w-full"
              maxLength={100}
              value={text}
              disabled={trials.length > 0}
              onChange={(event) => set(event.target.value)}
            />
          </label>
        ))}
      </div>
      {isDone ? (
        <>
          <p className="text-lg font-semibold" role="status">
            {blindWords(right, said.length)}
          </p>
          <button type="button" className="btn btn-primary btn-tall" onClick={() => void keep()}>
            Write it down
          </button>
        </>
      ) : isAsking ? (
        <div className="space-y-2" role="status">
          <p>
            Trial {trials.length} of {TRIALS}. For the helper: call preset{' '}
            <strong className="text-2xl" data-testid="called">
              {open.called}
            </strong>
            , and cover the screen.
          </p>
          <div className="flex flex-wrap gap-2">
            <button type="button" className="btn btn-tall" onClick={() => answer('A')}>
              It was A
            </button>
            <button type="button" className="btn btn-tall" onClick={() => answer('B')}>
              It was B
            </button>
          </div>
        </div>
      ) : (
        <button
          type="button"
          className="btn btn-tall"
          onClick={() => {
            const isNamed = first.trim() !== '' && second.trim() !== '' && first.trim() !== second.trim();
            setFault(isNamed ? undefined : 'Name both presets, and not alike.');
            if (isNamed) call();
          }}
        >
          {trials.length === 0 ? 'Begin' : 'Next one'}
        </button>
      )}
      {trials.length > 0 && (
        <button type="button" className="btn btn-ghost btn-tall" onClick={() => setTrials([])}>
          Begin anew
        </button>
      )}
      {fault !== undefined && (
        <p role="alert" className="text-stop">
          {fault}
        </p>
      )}
    </div>
  );
}

const randomSide = (): Side => (crypto.getRandomValues(new Uint8Array(1))[0]! % 2 === 0 ? 'A' : 'B');
