import { formatQuantity, isOverload as looksOverloaded, parseQuantity, UNITS, type Unit } from '@yield/core';
import { CornerDownLeft } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { draftDone, draftTyped } from '../../store/drafts.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { useKeys } from '../../ui/useKeys.ts';

interface Props {
  /** what is typed is kept under this key until it is entered */
  draftKey: string;
  unit: Unit;
  label: string;
  /** the key r puts the cursor here */
  main?: boolean;
  /** what to say of a figure below zero */
  negativeWords: string;
  /** the figure that stands for a meter's "OL"; without it such text is refused */
  overload?: number;
  onEnter: (value: number, resolution: number) => void;
}

/** Digits, Enter. What is typed survives a reload. */
export function FigureEntry({ draftKey, unit, label, main = false, negativeWords, overload, onEnter }: Props): JSX.Element {
  const dispatch = useAppDispatch();
  const text = useAppSelector((state) => state.drafts[draftKey] ?? '');
  const [refusal, setRefusal] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  useKeys(main ? { r: () => input.current?.focus() } : {});
  const wasMain = useRef(main);
  useEffect(() => {
    // Of two figures in a row the next one takes the cursor over: the hand stays on the digits.
    const isTyping = document.activeElement instanceof HTMLInputElement && document.activeElement.inputMode === 'decimal';
    if (main && !wasMain.current && isTyping) input.current?.focus();
    wasMain.current = main;
  }, [main]);
  const isOverload = overload !== undefined && looksOverloaded(text);
  const parsed = isOverload ? ({ kind: 'ok', value: overload, resolution: 1 } as const) : parseQuantity(text, unit);

  const enter = (): void => {
    if (parsed.kind === 'empty') return;
    if (parsed.kind === 'fault') {
      setRefusal(parsed.message);
      return;
    }
    if (parsed.value < 0) {
      setRefusal(negativeWords);
      return;
    }
    onEnter(parsed.value, parsed.resolution);
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
        {refusal ??
          (parsed.kind === 'ok' && text.trim() !== ''
            ? isOverload
              ? 'reads as overload: no path'
              : `reads as ${formatQuantity(parsed.value, unit)}`
            : '')}
      </p>
    </form>
  );
}
