import { findingKey } from '../../ui/findingKey.ts';
import { INPUT_NAMES, type FlatItem } from '@yield/core';
import { useState, type JSX } from 'react';
import { useMark } from '../../tune/useMark.ts';
import { FindingLine } from '../../ui/FindingLine.tsx';
import { useKeys } from '../../ui/useKeys.ts';
import type { ViewProps } from '../view.ts';

/** Everything on the source neutral, item by item, for one of its inputs. */
export function FlatBody({ run, current }: ViewProps<'flat'>): JSX.Element {
  const { step, state } = current;
  const { items } = state.figures;
  const { save } = useMark(run, current);
  const change = (item: FlatItem, ticked: boolean, value: string): void => {
    const next = items.map((other) => (other.id === item.id ? { ...other, ticked, value } : other)).filter((other) => other.ticked);
    save({ checks: next.map(({ id }) => id), values: Object.fromEntries(next.map(({ id, value: at }) => [id, at])) });
  };
  const left = items.filter(({ ticked }) => !ticked).length;
  const allNeutral = (): void => {
    const next = items.map((item) => ({ id: item.id, value: item.ticked ? item.value : item.neutral }));
    save({ checks: next.map(({ id }) => id), values: Object.fromEntries(next.map(({ id, value }) => [id, value])) });
  };
  useKeys(left > 0 ? { a: allNeutral } : {});
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Play from <span className="font-semibold">{INPUT_NAMES[step.input].toLowerCase()}</span> and go through its own settings: each input
        keeps its own. Tick what is neutral. If a control has to stay raised, enter its setting.
      </p>
      <ul className="border-line divide-line divide-y border-y">
        {items.map((item) => (
          <Item key={item.id} item={item} onChange={(ticked, value) => change(item, ticked, value)} />
        ))}
      </ul>
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {left > 0 && (
          <div className="flex flex-wrap items-center gap-4">
            <p className="text-quiet">{left === 1 ? 'One is left.' : `${left} are left.`}</p>
            <button type="button" className="btn btn-tall" onClick={allNeutral}>
              All checked, all neutral <kbd className="key">a</kbd>
            </button>
          </div>
        )}
        {state.findings.map((finding, i) => (
          <FindingLine key={findingKey(finding)} finding={finding} large={i === 0} />
        ))}
      </div>
    </div>
  );
}

function Item({ item, onChange }: { item: FlatItem; onChange: (ticked: boolean, value: string) => void }): JSX.Element {
  // What is being typed; it is written down when the field is left or Enter is pressed.
  const [text, setText] = useState<string | null>(null);
  const enter = (): void => {
    if (text === null) return;
    const value = text.trim();
    setText(null);
    onChange(true, value === '' ? item.neutral : value);
  };
  return (
    <li className="grid min-h-13 grid-cols-[minmax(0,1fr)_6.5rem] items-center gap-x-4 py-1 md:grid-cols-[minmax(0,13rem)_6.5rem_minmax(0,1fr)]">
      <label className="flex min-h-11 cursor-pointer items-center gap-3">
        <input
          type="checkbox"
          className="checkbox checkbox-primary"
          checked={item.ticked}
          onChange={(event) => onChange(event.target.checked, item.value)}
        />
        <span className={item.ticked ? '' : 'font-medium'}>{item.name}</span>
      </label>
      <input
        aria-label={`${item.name} setting`}
        className={`border-line bg-ground min-h-11 w-full rounded-md border px-3 font-medium ${item.ticked && !item.isNeutral ? 'text-attention' : ''}`}
        value={text ?? item.value}
        autoComplete="off"
        maxLength={40}
        onChange={(event) => setText(event.target.value)}
        onBlur={enter}
        onKeyDown={(event) => {
          if (event.key === 'Enter') enter();
          if (event.key === 'Escape') event.currentTarget.blur();
        }}
      />
      <span className="text-quiet text-sm leading-snug max-md:col-span-2 max-md:pb-1">{item.where}</span>
    </li>
  );
}
