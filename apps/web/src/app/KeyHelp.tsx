import { KINDS, STAGES, type StepKind } from '@yield/core';
import type { JSX } from 'react';
import { Link } from 'react-router';
import { Dialog } from '../ui/Dialog.tsx';

const KEYS: readonly [string, string][] = [
  ['r, digits', 'type a reading'],
  ['Enter', 'enter the reading'],
  ['Esc', 'leave the field; what is typed stays'],
  ['↑  ↓', 'volume step, while a ceiling is typed'],
  ['a', 'all that is to be seen to is so'],
  ['s', 'choose a capture'],
  ['j  k', 'next and previous step'],
  ['t', 'tone on and off'],
  ['b', 'simulated bench'],
  ['c', 'chain'],
  ['x', 'crossovers'],
  ['f', 'findings'],
  ['n', 'what wants doing next'],
  ['h', 'all tunes'],
  ['l', 'load planner'],
  ['o', 'test tones'],
  ['+  −', 'zoom the trace in and out'],
  ['←  →', 'move along the trace'],
  ['0', 'the whole trace'],
  ['Ctrl+K', 'find anything'],
  ['?', 'this list'],
];

/** The keys, and every kind of step in the order of the work. */
export function KeyHelp({ onClose, kinds = KINDS }: { onClose: () => void; kinds?: readonly StepKind[] }): JSX.Element {
  return (
    <Dialog title="Keys" onClose={onClose}>
      <dl className="grid grid-cols-[6rem_1fr] gap-y-2">
        {KEYS.map(([key, words]) => (
          <div key={key} className="contents">
            <dt>
              <kbd className="key text-base">{key}</kbd>
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-6">
        <Link to="/guide" className="text-action inline-flex min-h-11 items-center font-medium hover:underline" onClick={onClose}>
          The whole guide
        </Link>
      </p>
      <StepHelp kinds={kinds} />
    </Dialog>
  );
}

/** What each kind of step is for. */
export function StepHelp({ kinds }: { kinds: readonly StepKind[] }): JSX.Element {
  return (
    <section className="mt-6" aria-label="Steps">
      <h3 className="font-semibold">Steps</h3>
      <dl className="mt-2 grid grid-cols-[8rem_1fr] gap-x-4 gap-y-1.5 text-sm leading-snug">
        {STAGES.flatMap((stage) => kinds.filter((kind) => kind.stage === stage.id)).map(({ kind, title, help }) => (
          <div key={kind} className="contents">
            <dt className="font-medium">{title}</dt>
            <dd className="text-quiet">{help}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
