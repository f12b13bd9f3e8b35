import { conditionsNow, formatQuantity, parseQuantity, UNITS, type ReadingKind, type Unit } from '@yield/core';
import { CornerDownLeft } from 'lucide-react';
import { useRef, useState, type JSX } from 'react';
import { draftDone, draftTyped } from '../store/drafts.ts';
import { entryAdded } from '../store/outbox.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';
import { useKeys } from '../ui/useKeys.ts';
import type { RunStep, TuneRun } from './useTuneRun.ts';

interface Props {
  run: TuneRun;
  current: RunStep;
  kind: ReadingKind;
  unit: Unit & ('V' | 'A');
  label: string;
  /** the key r puts the cursor here */
  main?: boolean;
}

/** Digits, Enter. What is typed survives a reload; what is entered goes to the outbox and is judged at once. */
export function ReadingEntry({ run, current, kind, unit, label, main = false }: Props): JSX.Element {
  const dispatch = useAppDispatch();
  const { step } = current;
  const draftKey = `reading/${run.tune.id}/${step.id}/${kind}`;
  const text = useAppSelector((state) => state.drafts[draftKey] ?? '');
  const [refusal, setRefusal] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  useKeys(main ? { r: () => input.current?.focus() } : {});
  const parsed = parseQuantity(text, unit);

  const enter = (): void => {
    if (parsed.kind === 'empty') return;
    if (parsed.kind === 'fault') {
      setRefusal(parsed.message);
      return;
    }
    if (parsed.value < 0) {
      setRefusal(`A meter on AC never reads below zero. Is it on DC ${UNITS[unit].plural}?`);
      return;
    }
    const { chain, settings } = run.tune;
    dispatch(
      entryAdded({
        kind: 'reading',
        id: crypto.randomUUID(),
        tuneId: run.tune.id,
        reading: {
          stepId: step.id,
          kind,
          value: parsed.value,
          resolution: parsed.resolution,
          conditions: conditionsNow(step, chain.body, settings.rules),
          takenAt: new Date().toISOString(),
        },
      }),
    );
    dispatch(draftDone(draftKey));
    setRefusal(null);
  };

  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        enter();
      }}
    >
      <label className="block">
        <span className="label flex items-center gap-2">
          {label} {main && <kbd className="key">r</kbd>}
        </span>
        <span className="mt-1 flex gap-2">
          <span
            className={`border-line bg-ground flex min-w-0 flex-1 items-baseline gap-2 rounded-md border-2 px-3 ${refusal === null ? 'focus-within:border-action' : 'border-stop'}`}
          >
            <input
              ref={input}
              value={text}
              onChange={(event) => {
                setRefusal(null);
                dispatch(draftTyped({ key: draftKey, text: event.target.value }));
              }}
              onKeyDown={(event) => {
                // Out of the field, so that the other keys work again; what was typed stays.
                if (event.key === 'Escape') event.currentTarget.blur();
              }}
              inputMode="decimal"
              autoComplete="off"
              size={6}
              aria-invalid={refusal !== null}
              className={`w-full min-w-0 bg-transparent py-1.5 font-semibold outline-none text-4xl`}
            />
            <span className="text-quiet text-xl">{UNITS[unit].sign}</span>
          </span>
          <button type="submit" className="btn btn-primary btn-tall h-auto px-3.5" aria-label={`Enter ${label}`}>
            <CornerDownLeft size={20} aria-hidden />
          </button>
        </span>
      </label>
      <p
        className={`mt-1 min-h-5 text-sm leading-snug ${refusal === null ? 'text-quiet' : 'text-stop font-medium'}`}
        role={refusal === null ? undefined : 'alert'}
      >
        {refusal ?? (parsed.kind === 'ok' && text.trim() !== '' ? `reads as ${formatQuantity(parsed.value, unit)}` : '')}
      </p>
    </form>
  );
}
