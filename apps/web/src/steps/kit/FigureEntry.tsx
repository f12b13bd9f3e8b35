import {
  formatQuantity,
  isOverload as looksOverloaded,
  parseQuantity,
  sizeDoubt,
  UNITS,
  type LikelySize,
  type SizeDoubt,
  type Unit,
} from '@yield/core';
import { CornerDownLeft } from 'lucide-react';
import { useEffect, useRef, useState, type JSX } from 'react';
import { draftDone, draftTyped } from '../../store/drafts.ts';
import { useAppDispatch, useAppSelector } from '../../store/store.ts';
import { isFigureKey, useKeys } from '../../ui/useKeys.ts';

interface Props {
  /** what is typed is kept under this key until it is entered */
  draftKey: string;
  unit: Unit;
  label: string;
  /** the key r puts the cursor here, and digits typed anywhere land here */
  main?: boolean;
  /** what to say of a figure below zero */
  negativeWords: string;
  /** the figure that stands for a meter's "OL"; without it such text is refused */
  overload?: number;
  /** where the figure is likely to lie: one out of all proportion is asked about first */
  likely?: LikelySize;
  onEnter: (value: number, resolution: number) => void;
}

interface Asked extends SizeDoubt {
  value: number;
  resolution: number;
}

const DIGITS = '0123456789.,';

/** Digits, Enter. What is typed survives a reload. */
export function FigureEntry({ draftKey, unit, label, main = false, negativeWords, overload, likely, onEnter }: Props): JSX.Element {
  const dispatch = useAppDispatch();
  const text = useAppSelector((state) => state.drafts[draftKey] ?? '');
  const [refusal, setRefusal] = useState<string | null>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const write = (next: string): void => {
    setRefusal(null);
    setAsked(null);
    dispatch(draftTyped({ key: draftKey, text: next }));
  };
  const typeHere = (sign: string): void => {
    input.current?.focus();
    write(text + sign);
  };
  useKeys(
    main
      ? {
          r: () => input.current?.focus(),
          ...Object.fromEntries(Array.from(DIGITS, (sign) => [sign, () => typeHere(sign)])),
        }
      : {},
  );
  const wasMain = useRef(main);
  useEffect(() => {
    // Of two figures in a row the next one takes the cursor over: the hand stays on the digits.
    const isTyping = document.activeElement instanceof HTMLInputElement && document.activeElement.inputMode === 'decimal';
    if (main && !wasMain.current && isTyping) input.current?.focus();
    wasMain.current = main;
  }, [main]);
  const isOverload = overload !== undefined && looksOverloaded(text);
  const parsed = isOverload ? ({ kind: 'ok', value: overload, resolution: 1 } as const) : parseQuantity(text, unit);

  const take = (value: number, resolution: number): void => {
    onEnter(value, resolution);
    dispatch(draftDone(draftKey));
    setRefusal(null);
    setAsked(null);
    input.current?.focus();
  };
  const enter = (): void => {
    if (asked !== null) {
      // The second Enter takes what was offered.
      if (asked.likely !== undefined) take(asked.likely, (asked.resolution * asked.likely) / asked.value);
      return;
    }
    if (parsed.kind === 'empty') return;
    if (parsed.kind === 'fault') {
      setRefusal(parsed.message);
      return;
    }
    if (parsed.value < 0) {
      setRefusal(negativeWords);
      return;
    }
    const doubt = isOverload || likely === undefined ? undefined : sizeDoubt(parsed.value, likely);
    if (doubt === undefined) take(parsed.value, parsed.resolution);
    else setAsked({ ...doubt, value: parsed.value, resolution: parsed.resolution });
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
              onChange={(event) => write(event.target.value)}
              onKeyDown={(event) => {
                // Out of the field, so that the other keys work again; what was typed stays.
                if (event.key === 'Escape') event.currentTarget.blur();
                // A letter that no figure has is a key of the page.
                else if (!isFigureKey(event)) event.preventDefault();
              }}
              data-figure=""
              inputMode="decimal"
              autoComplete="off"
              size={6}
              aria-invalid={refusal !== null}
              className={`w-full min-w-0 bg-transparent py-1.5 font-semibold outline-none text-4xl`}
            />
            <span className="text-quiet text-xl">{UNITS[unit].sign}</span>
          </span>
          <SignKeys unit={unit} withOverload={overload !== undefined} onSign={typeHere} />
          <button type="submit" className="btn btn-primary btn-tall h-auto px-3.5" aria-label={`Enter ${label}`}>
            <CornerDownLeft size={20} aria-hidden />
          </button>
        </span>
      </label>
      {asked === null ? (
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
      ) : (
        <SizeQuestion asked={asked} unit={unit} onTake={take} />
      )}
    </form>
  );
}

/** A slipped point or a wrong prefix, asked before it is written down. */
function SizeQuestion({
  asked: { value, resolution, likely },
  unit,
  onTake,
}: {
  asked: Asked;
  unit: Unit;
  onTake: (value: number, resolution: number) => void;
}): JSX.Element {
  const typed = formatQuantity(value, unit);
  return (
    <div role="alert" className="mt-2 space-y-2">
      <p className="leading-snug font-medium">
        {likely === undefined ? `${typed} is far from what is expected here. Is it correct?` : `${formatQuantity(likely, unit)}?`}
      </p>
      <div className="flex flex-wrap gap-2">
        {likely !== undefined && (
          <button type="submit" className="btn btn-primary">
            {formatQuantity(likely, unit)} <kbd className="key">Enter</kbd>
          </button>
        )}
        <button type="button" className="btn" onClick={() => onTake(value, resolution)}>
          {likely === undefined ? `Yes, ${typed}` : `No, ${typed}`}
        </button>
      </div>
    </div>
  );
}

/** A phone's decimal pad has no letters: what meters show beside digits is put beside the field. */
function SignKeys({
  unit,
  withOverload,
  onSign,
}: {
  unit: Unit;
  withOverload: boolean;
  onSign: (sign: string) => void;
}): JSX.Element | null {
  const signs = [...(withOverload ? ['OL'] : []), ...(unit === 'ohm' ? ['k'] : unit === 'V' || unit === 'A' ? ['m'] : [])];
  return (
    <>
      {signs.map((sign) => (
        <button
          key={sign}
          type="button"
          className="btn hidden h-auto min-w-11 px-2 pointer-coarse:inline-flex"
          onClick={() => onSign(sign)}
        >
          {sign}
        </button>
      ))}
    </>
  );
}
