import type { JSX } from 'react';
import { Dialog } from '../ui/Dialog.tsx';

const KEYS: readonly [string, string][] = [
  ['r', 'type a reading'],
  ['Enter', 'enter the reading'],
  ['Esc', 'leave the field; what is typed stays'],
  ['↑  ↓', 'volume step, while a ceiling is typed'],
  ['s', 'choose a capture'],
  ['j  k', 'next and previous step'],
  ['t', 'tone on and off'],
  ['b', 'simulated bench'],
  ['c', 'chain'],
  ['x', 'crossovers'],
  ['n', 'the step that is next'],
  ['h', 'all tunes'],
  ['l', 'load planner'],
  ['o', 'test tones'],
  ['+  −', 'zoom the trace in and out'],
  ['←  →', 'move along the trace'],
  ['0', 'the whole trace'],
  ['?', 'this list'],
];

export function KeyHelp({ onClose }: { onClose: () => void }): JSX.Element {
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
    </Dialog>
  );
}
