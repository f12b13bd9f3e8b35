import { fixed, wholePlan, type Chain, type DelayRow, type FloorPlan, type Polarity } from '@yield/core';
import type { JSX } from 'react';
import { useMovables } from '../../plan/useMovables.ts';
import { VehicleOutline } from '../../plan/VehicleOutline.tsx';

const PIXELS_PER_METRE = 92;
const MARGIN = 26;
/** One press of an arrow key. */
const KEY_METRE = 0.05;

/** Channels go by their ids, which no head is. */
const HEAD = ' head';

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
  const { widthMetre, lengthMetre } = stored;
  const px = (metre: number): number => MARGIN + metre * PIXELS_PER_METRE;
  const [width, height] = [2 * MARGIN + widthMetre * PIXELS_PER_METRE, 2 * MARGIN + lengthMetre * PIXELS_PER_METRE];
  const { plan = {} } = chain.listening ?? {};
  const { placeOf, grip, ground } = useMovables({
    places: { ...stored.places, [HEAD]: stored.head },
    fromPicture: (share) => ({ x: (share.x * width - MARGIN) / PIXELS_PER_METRE, y: (share.y * height - MARGIN) / PIXELS_PER_METRE }),
    within: ({ x, y }) => ({
      x: Math.round(100 * Math.max(0, Math.min(widthMetre, x))) / 100,
      y: Math.round(100 * Math.max(0, Math.min(lengthMetre, y))) / 100,
    }),
    keyMetre: KEY_METRE,
    onMoved: (name, place) => onPlan(name === HEAD ? { ...plan, head: place } : { ...plan, places: { ...plan.places, [name]: place } }),
  });
  const head = placeOf(HEAD);
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
        {...ground}
      >
        <VehicleOutline x={MARGIN} y={MARGIN} width={widthMetre * PIXELS_PER_METRE} height={lengthMetre * PIXELS_PER_METRE} />
        <clipPath id="vehicle">
          <rect x="0" y="0" width={width} height={height} />
        </clipPath>
        <g clipPath="url(#vehicle)">
          {rows.map(({ channelId, setSecond, distanceMetre }) => {
            if (distanceMetre === undefined || setSecond === undefined) return null;
            const { x, y } = placeOf(channelId);
            const radius = Math.max(0, (lastSecond - setSecond) * speed * PIXELS_PER_METRE);
            return <circle key={channelId} cx={px(x)} cy={px(y)} r={radius} fill="none" stroke="var(--action)" strokeOpacity="0.35" />;
          })}
        </g>
        <g
          {...grip(HEAD)}
          aria-label={`Listener’s head, ${fixed(head.x, 2)} m from the left, ${fixed(head.y, 2)} m from the front`}
          className="cursor-grab outline-none focus-visible:[&>circle]:stroke-[5px]"
        >
          <circle cx={px(head.x)} cy={px(head.y)} r="13" fill="var(--ground)" stroke="var(--ink)" strokeWidth="2.5" />
          <path d={`M${px(head.x) - 5} ${px(head.y) - 12} l5 -7 l5 7`} fill="none" stroke="var(--ink)" strokeWidth="2.5" />
        </g>
        {rows.map(({ channelId, name, setSecond }) => {
          const { x, y } = placeOf(channelId);
          const polarity = polarityOf(channelId);
          const isRight = x > widthMetre * 0.6;
          return (
            <g
              key={channelId}
              {...grip(channelId)}
              aria-label={`${name}, ${polarity === undefined ? 'polarity not checked' : `polarity ${polarity}`}`}
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
