import { flatItems, INPUT_NAMES, type FlatItem, type FlatStep as FlatStepType } from '@yield/core';
import { useState, type JSX } from 'react';
import { useSaveMarkMutation } from '../api/yieldApi.ts';
import type { RunStep, TuneRun } from '../run/useTuneRun.ts';
import { FindingLine } from '../ui/FindingLine.tsx';

/** Everything on the source neutral, item by item, for one of its inputs. */
export function FlatStep({ run, current }: { run: TuneRun; current: RunStep<FlatStepType> }): JSX.Element {
  const { step, state } = current;
  const items = useFlatList(run, step);
  const left = items.list.filter(({ ticked }) => !ticked).length;
  return (
    <div className="min-w-0 space-y-4">
      <p>
        Play from <span className="font-semibold">{INPUT_NAMES[step.input].toLowerCase()}</span> and go through its own settings: each input
        keeps its own. Tick what stands neutral; where something has to stay up, write down where it stands.
      </p>
      <ul className="border-line divide-line divide-y border-y">
        {items.list.map((item) => (
          <Item key={item.id} item={item} onChange={(ticked, value) => void items.change(item, ticked, value)} />
        ))}
      </ul>
      <div className="space-y-3" aria-live="polite" data-testid="verdict">
        {left > 0 && <p className="text-quiet">{left === 1 ? 'One is left.' : `${left} are left.`}</p>}
        {state.findings.map((finding, i) => (
          <FindingLine key={finding.text} finding={finding} large={i === 0} />
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
        aria-label={`${item.name} stands at`}
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

/** The list as it was ticked, with what was ticked a moment ago counted in until its save has ended. */
function useFlatList(
  run: TuneRun,
  step: FlatStepType,
): { list: FlatItem[]; change: (item: FlatItem, ticked: boolean, value: string) => Promise<void> } {
  const [saveMark] = useSaveMarkMutation();
  const list = flatItems(step, run.tune.chain.body, run.records);
  const mark = run.tune.marks.find(({ stepId }) => stepId === step.id);
  const change = async (item: FlatItem, ticked: boolean, value: string): Promise<void> => {
    const next = list.map((other) => (other.id === item.id ? { ...other, ticked, value } : other));
    await saveMark({
      id: run.tune.id,
      stepId: step.id,
      body: {
        version: mark?.version ?? 0,
        checks: next.filter((other) => other.ticked).map(({ id }) => id),
        values: Object.fromEntries(next.filter((other) => other.ticked).map(({ id, value: at }) => [id, at])),
        ...(mark?.skippedReason === undefined ? {} : { skippedReason: mark.skippedReason }),
      },
    });
  };
  return { list, change };
}
