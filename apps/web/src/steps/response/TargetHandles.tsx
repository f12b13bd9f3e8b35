import { fixed, formatQuantity, levelAt, type CurvePoint, type LevelCurve } from '@yield/core';
import { useRef, type JSX } from 'react';

interface Scale {
  (value: number): number;
  invert: (pixel: number) => number;
}

interface Props {
  points: readonly CurvePoint[];
  target: LevelCurve;
  x: Scale;
  y: Scale;
  /** seen at once */
  onMove: (points: CurvePoint[]) => void;
  /** the hand let go */
  onEnd: () => void;
}

/** A press of an arrow key. */
const STEP_DB = 0.5;
const STEP_OCTAVE = 1 / 12;
const TOUCHED = 22;
const MOST_DB = 30;

/** The points of a wanted curve, on the curve: dragged by hand, or by the arrow keys. */
export function TargetHandles({ points, target, x, y, onMove, onEnd }: Props): JSX.Element {
  const grip = useRef<{ index: number; from: CurvePoint; at: { hertz: number; db: number } }>(undefined);
  const place = (index: number, hertz: number, db: number): void => {
    const low = (points[index - 1]?.hertz ?? 10) * 1.02;
    const high = (points[index + 1]?.hertz ?? 24_000) / 1.02;
    const moved: CurvePoint = {
      hertz: Number(Math.max(low, Math.min(high, hertz)).toPrecision(3)),
      db: Number(Math.max(-MOST_DB, Math.min(MOST_DB, db)).toFixed(1)),
    };
    onMove(points.map((point, k) => (k === index ? moved : point)));
  };
  const underHand = (event: React.PointerEvent<SVGElement>): { hertz: number; db: number } => {
    const { left, top } = event.currentTarget.ownerSVGElement!.getBoundingClientRect();
    return { hertz: x.invert(event.clientX - left), db: y.invert(event.clientY - top) };
  };
  return (
    <g>
      {points.map((point, index) => {
        const { hertz, db } = point;
        const words = `${formatQuantity(hertz, 'Hz')}, ${fixed(db, 1)} dB`;
        return (
          <g
            key={index}
            role="slider"
            tabIndex={0}
            aria-label={`Wanted at ${formatQuantity(hertz, 'Hz')}`}
            aria-valuenow={db}
            aria-valuemin={-MOST_DB}
            aria-valuemax={MOST_DB}
            aria-valuetext={words}
            className="group cursor-grab touch-none focus:outline-none"
            transform={`translate(${x(hertz)} ${y(levelAt(target, clampTo(target, hertz)))})`}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              grip.current = { index, from: point, at: underHand(event) };
            }}
            onPointerMove={(event) => {
              const held = grip.current;
              if (held === undefined || held.index !== index) return;
              const now = underHand(event);
              place(index, held.from.hertz * (now.hertz / held.at.hertz), held.from.db + now.db - held.at.db);
            }}
            onPointerUp={() => {
              grip.current = undefined;
              onEnd();
            }}
            onKeyDown={(event) => {
              const moves: Record<string, [number, number]> = {
                ArrowUp: [1, STEP_DB],
                ArrowDown: [1, -STEP_DB],
                ArrowLeft: [2 ** -STEP_OCTAVE, 0],
                ArrowRight: [2 ** STEP_OCTAVE, 0],
              };
              const move = moves[event.key];
              if (move === undefined) return;
              event.preventDefault();
              place(index, hertz * move[0], db + move[1]);
            }}
            onBlur={onEnd}
          >
            <circle r={TOUCHED} fill="transparent" />
            <circle r="7" fill="var(--ground)" stroke="var(--good)" strokeWidth="2.5" className="group-focus-visible:stroke-(--action)" />
            <title>{words}</title>
          </g>
        );
      })}
    </g>
  );
}

const clampTo = ({ frequenciesHz }: LevelCurve, hertz: number): number =>
  Math.max(frequenciesHz[0]!, Math.min(frequenciesHz.at(-1)!, hertz));
