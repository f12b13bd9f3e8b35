import { fixed, formatQuantity } from '@yield/core';
import { useRef, type JSX } from 'react';

export interface Scale {
  (value: number): number;
  invert: (pixel: number) => number;
}

/** A point on the picture that is moved by hand. */
export interface CurveHandle {
  label: string;
  /** seen in it */
  mark?: string;
  hertz: number;
  /** what it stands for */
  db: number;
  /** where it is drawn, on the picture's scale */
  atDb: number;
  hertzWithin: readonly [number, number];
  dbWithin: readonly [number, number];
}

interface Props {
  handles: readonly CurveHandle[];
  color: string;
  x: Scale;
  y: Scale;
  /** seen at once */
  onMove: (index: number, place: { hertz: number; db: number }) => void;
  /** the hand let go */
  onEnd?: (() => void) | undefined;
}

/** A press of an arrow key. */
const STEP_DB = 0.5;
const STEP_OCTAVE = 1 / 12;
const TOUCHED = 22;

/** Points of a curve: dragged by hand, or moved by the arrow keys. */
export function CurveHandles({ handles, color, x, y, onMove, onEnd }: Props): JSX.Element {
  const grip = useRef<{ index: number; from: CurveHandle; at: { hertz: number; db: number } }>(undefined);
  const place = (index: number, hertz: number, db: number): void => {
    const { hertzWithin, dbWithin } = handles[index]!;
    const moved = { hertz: Number(between(hertz, hertzWithin).toPrecision(3)), db: Number(between(db, dbWithin).toFixed(1)) };
    onMove(index, moved);
  };
  const underHand = (event: React.PointerEvent<SVGElement>): { hertz: number; db: number } => {
    const { left, top } = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return { hertz: x.invert(event.clientX - left), db: y.invert(event.clientY - top) };
  };
  return (
    <g>
      {handles.map((handle, index) => {
        const { label, mark, hertz, db, atDb, dbWithin } = handle;
        const words = `${formatQuantity(hertz, 'Hz')}, ${fixed(db, 1)} dB`;
        return (
          <g
            key={index}
            role="slider"
            tabIndex={0}
            aria-label={label}
            aria-valuenow={db}
            aria-valuemin={dbWithin[0]}
            aria-valuemax={dbWithin[1]}
            aria-valuetext={words}
            className="group cursor-grab touch-none focus:outline-none"
            transform={`translate(${x(hertz)} ${y(atDb)})`}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              grip.current = { index, from: handle, at: underHand(event) };
            }}
            onPointerMove={(event) => {
              const held = grip.current;
              if (held === undefined || held.index !== index) return;
              const now = underHand(event);
              place(index, held.from.hertz * (now.hertz / held.at.hertz), held.from.db + now.db - held.at.db);
            }}
            onPointerUp={() => {
              grip.current = undefined;
              onEnd?.();
            }}
            onPointerCancel={() => {
              grip.current = undefined;
            }}
            onKeyDown={(event) => {
              const move = KEYS[event.key];
              if (move === undefined) return;
              event.preventDefault();
              place(index, hertz * move[0], db + move[1]);
            }}
            onBlur={onEnd}
          >
            <circle r={TOUCHED} fill="transparent" />
            <circle
              r={mark === undefined ? 7 : 10}
              fill="var(--ground)"
              stroke={color}
              strokeWidth="2.5"
              className="group-focus-visible:stroke-[4px]"
            />
            {mark !== undefined && (
              <text y="4.5" textAnchor="middle" fontSize="12" fontWeight="600" fill={color}>
                {mark}
              </text>
            )}
            <title>{words}</title>
          </g>
        );
      })}
    </g>
  );
}

const between = (value: number, [low, high]: readonly [number, number]): number => Math.max(low, Math.min(high, value));

const KEYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowUp: [1, STEP_DB],
  ArrowDown: [1, -STEP_DB],
  ArrowLeft: [2 ** -STEP_OCTAVE, 0],
  ArrowRight: [2 ** STEP_OCTAVE, 0],
};
