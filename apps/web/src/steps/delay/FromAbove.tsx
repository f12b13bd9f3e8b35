import { fixed, wholePlan, type Chain, type DelayRow, type FloorPlan, type PlanPlace, type Polarity } from '@yield/core';
import { useState, type JSX, type KeyboardEvent, type PointerEvent } from 'react';

const PIXELS_PER_METRE = 92;
const MARGIN = 26;
/** One press of an arrow key. */
const KEY_METRE = 0.05;

type Held = { kind: 'head' } | { kind: 'channel'; id: string };

interface Props {
  chain: Chain;
  rows: readonly DelayRow[];
  speed: number;
  /** as it was found, by channel; left out where nobody looked */
  polarityOf: (channelId: string) => Polarity | undefined;
  onPlan: (plan: FloorPlan) => void;
}

/**
 * The vehicle from above: the listener's head, each channel where it is, and how far its sound has come when the last one arrives. Where
 * delays and places agree, every ring runs through the head.
 */
export function FromAbove({ chain, rows, speed, polarityOf, onPlan }: Props): JSX.Element {
  const stored = wholePlan(chain);
  const [moved, setMoved] = useState<{ held: Held; place: PlanPlace }>();
  const [held, setHeld] = useState<Held>();
  const { widthMetre, lengthMetre } = stored;
  const placeOf = (what: Held): PlanPlace => {
    if (moved !== undefined && isSame(moved.held, what)) return moved.place;
    return what.kind === 'head' ? stored.head : stored.places[what.id]!;
  };
  const px = (metre: number): number => MARGIN + metre * PIXELS_PER_METRE;
  const [width, height] = [2 * MARGIN + widthMetre * PIXELS_PER_METRE, 2 * MARGIN + lengthMetre * PIXELS_PER_METRE];
  const inside = ({ x, y }: PlanPlace): PlanPlace => ({
    x: Math.round(100 * Math.max(0, Math.min(widthMetre, x))) / 100,
    y: Math.round(100 * Math.max(0, Math.min(lengthMetre, y))) / 100,
  });
  const { plan = {} } = chain.listening ?? {};
  const store = (what: Held, place: PlanPlace): void =>
    onPlan(what.kind === 'head' ? { ...plan, head: place } : { ...plan, places: { ...plan.places, [what.id]: place } });
  const handlers = (what: Held) => ({
    tabIndex: 0,
    role: 'button',
    onPointerDown: (event: PointerEvent<SVGGElement>) => {
      setHeld(what);
      event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
    },
    onKeyDown: (event: KeyboardEvent<SVGGElement>) => {
      const by = KEYS[event.key];
      if (by === undefined) return;
      event.preventDefault();
      const at = placeOf(what);
      store(what, inside({ x: at.x + by[0] * KEY_METRE, y: at.y + by[1] * KEY_METRE }));
    },
  });
  const drag = (event: PointerEvent<SVGSVGElement>): void => {
    if (held === undefined) return;
    const box = event.currentTarget.getBoundingClientRect();
    const scale = width / box.width;
    const place = inside({
      x: ((event.clientX - box.left) * scale - MARGIN) / PIXELS_PER_METRE,
      y: ((event.clientY - box.top) * scale - MARGIN) / PIXELS_PER_METRE,
    });
    setMoved({ held, place });
  };
  const drop = (): void => {
    if (moved !== undefined) store(moved.held, moved.place);
    setHeld(undefined);
    setMoved(undefined);
  };
  const head = placeOf({ kind: 'head' });
  // When the last one arrives, each has come so far: its own way.
  const lastSecond = Math.max(
    0,
    ...rows.map(({ distanceMetre, setSecond = 0 }) => (distanceMetre === undefined ? 0 : distanceMetre / speed + setSecond)),
  );
  return (
    <figure className="min-w-0">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="w-full max-w-64 touch-none select-none"
        role="group"
        aria-label="The vehicle from above"
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <Body width={widthMetre * PIXELS_PER_METRE} height={lengthMetre * PIXELS_PER_METRE} />
        <clipPath id="vehicle">
          <rect x="0" y="0" width={width} height={height} />
        </clipPath>
        <g clipPath="url(#vehicle)">
          {rows.map(({ channelId, setSecond, distanceMetre }) => {
            if (distanceMetre === undefined || setSecond === undefined) return null;
            const { x, y } = placeOf({ kind: 'channel', id: channelId });
            const radius = Math.max(0, (lastSecond - setSecond) * speed * PIXELS_PER_METRE);
            return <circle key={channelId} cx={px(x)} cy={px(y)} r={radius} fill="none" stroke="var(--action)" strokeOpacity="0.35" />;
          })}
        </g>
        <g
          {...handlers({ kind: 'head' })}
          aria-label={`Listener’s head, ${fixed(head.x, 2)} m from the left, ${fixed(head.y, 2)} m from the front`}
          className="cursor-grab outline-none focus-visible:[&>circle]:stroke-[5px]"
        >
          <circle cx={px(head.x)} cy={px(head.y)} r="13" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
          <path d={`M${px(head.x) - 5} ${px(head.y) - 12} l5 -7 l5 7`} fill="none" stroke="var(--ink)" strokeWidth="2.5" />
        </g>
        {rows.map(({ channelId, name, setSecond }) => {
          const { x, y } = placeOf({ kind: 'channel', id: channelId });
          const polarity = polarityOf(channelId);
          const isRight = x > widthMetre * 0.6;
          return (
            <g
              key={channelId}
              {...handlers({ kind: 'channel', id: channelId })}
              aria-label={`${name}, ${polarity === undefined ? 'polarity not looked at' : `polarity ${polarity}`}`}
              className="cursor-grab outline-none focus-visible:[&>rect]:stroke-[5px]"
            >
              <rect
                x={px(x) - 9}
                y={px(y) - 9}
                width="18"
                height="18"
                rx="4"
                fill={polarity === 'reversed' ? 'var(--attention)' : 'var(--action)'}
                stroke="var(--ground)"
                strokeWidth="2"
              />
              <text x={px(x)} y={px(y) + 5} textAnchor="middle" fontSize="15" fontWeight="700" fill="var(--ground)">
                {polarity === 'right' ? '+' : polarity === 'reversed' ? '−' : '?'}
              </text>
              <text x={px(x) + (isRight ? -14 : 14)} y={px(y) + 5} textAnchor={isRight ? 'end' : 'start'} fontSize="13" fill="var(--ink)">
                {setSecond === undefined ? '' : `${fixed(setSecond * 1000, 2)} ms`}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="text-quiet mt-1 max-w-64 text-sm leading-snug">
        Drag head and drivers to where they are, or move them by arrow keys. Each ring is the sound of a driver when the last one arrives:
        right delays send all of them through the head.
      </figcaption>
      <label className="mt-2 flex min-h-11 items-center gap-2">
        <input
          type="checkbox"
          className="checkbox"
          checked={plan.isRightHandDrive === true}
          onChange={(event) => {
            const { head: _moved, ...rest } = plan;
            onPlan({ ...rest, isRightHandDrive: event.target.checked });
          }}
        />
        Right-hand drive
      </label>
    </figure>
  );
}

const KEYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

const isSame = (one: Held, other: Held): boolean =>
  one.kind === other.kind && (one.kind === 'head' || one.id === (other as { id: string }).id);

/** An outline: nose up, a windscreen and a rear window. */
function Body({ width, height }: { width: number; height: number }): JSX.Element {
  const x = MARGIN;
  const y = MARGIN;
  const bar = (at: number, inset: number): string =>
    `M${x + inset} ${y + at} Q${x + width / 2} ${y + at - 16} ${x + width - inset} ${y + at}`;
  return (
    <g fill="none" stroke="var(--line)" strokeWidth="2.5">
      <rect x={x} y={y} width={width} height={height} rx={width * 0.28} fill="var(--raised)" />
      <path d={bar(height * 0.3, 10)} />
      <path d={bar(height * 0.84, 14)} />
      <line x1={x + width / 2} x2={x + width / 2} y1={y + height * 0.32} y2={y + height * 0.36} />
    </g>
  );
}
