import { fixed, microphonePlaces, wholePlan, type Chain, type FloorPlan } from '@yield/core';
import type { JSX } from 'react';
import { useMovables } from '../../plan/useMovables.ts';
import { VehicleOutline } from '../../plan/VehicleOutline.tsx';

const WIDTH = 260;
const HEIGHT = 200;
/** At least so much of the vehicle is shown, and so much around the outermost place. */
const MIN_METRE = 0.9;
const AROUND_METRE = 0.3;
const HEAD_METRE = 0.1;
const KEY_METRE = 0.01;
const SCALE_METRE = 0.2;

interface Props {
  chain: Chain;
  places: readonly string[];
  onPlan: (plan: FloorPlan) => void;
}

/** The listener's head from above and the places of the microphone around it, numbered as they were recorded. */
export function MicrophonePlan({ chain, places, onPlan }: Props): JSX.Element {
  const { head, widthMetre, lengthMetre } = wholePlan(chain);
  const marked = microphonePlaces(chain, places);
  const view = viewAround([head, ...Object.values(marked)]);
  const x = (metre: number): number => (metre - view.x) * view.scale;
  const y = (metre: number): number => (metre - view.y) * view.scale;
  const { plan = {} } = chain.listening ?? {};
  const { placeOf, grip, ground } = useMovables({
    places: marked,
    fromPicture: (share) => ({ x: view.x + (share.x * WIDTH) / view.scale, y: view.y + (share.y * HEIGHT) / view.scale }),
    within: (place) => ({
      x: Math.round(100 * Math.max(0, Math.min(widthMetre, place.x))) / 100,
      y: Math.round(100 * Math.max(0, Math.min(lengthMetre, place.y))) / 100,
    }),
    keyMetre: KEY_METRE,
    onMoved: (name, place) => onPlan({ ...plan, microphones: { ...plan.microphones, [name]: place } }),
  });
  return (
    <figure className="min-w-0">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="border-line w-full max-w-80 touch-none rounded-lg border select-none"
        role="group"
        aria-label="Places of the microphone, from above"
        {...ground}
      >
        <VehicleOutline x={x(0)} y={y(0)} width={widthMetre * view.scale} height={lengthMetre * view.scale} />
        <g fill="none" stroke="var(--quiet)" strokeWidth="2">
          <circle cx={x(head.x)} cy={y(head.y)} r={HEAD_METRE * view.scale} fill="var(--ground)" />
          <path d={`M${x(head.x) - 6} ${y(head.y - HEAD_METRE) + 1} l6 -9 l6 9`} />
        </g>
        <g transform={`translate(12 ${HEIGHT - 12})`} stroke="var(--quiet)" strokeWidth="1.5" fill="none">
          <path d={`M0 -4 v8 M0 0 h${SCALE_METRE * view.scale} m0 -4 v8`} />
          <text x={SCALE_METRE * view.scale + 6} y="4" fontSize="12" fill="var(--quiet)" stroke="none">
            {100 * SCALE_METRE} cm
          </text>
        </g>
        {places.map((name, k) => {
          const at = placeOf(name);
          return (
            <g
              key={name}
              {...grip(name)}
              aria-label={`${k + 1}: ${name}, ${aside(at.x - head.x, 'left', 'right')}, ${aside(at.y - head.y, 'before', 'behind')} the middle of the head`}
              className="cursor-grab outline-none focus-visible:[&>circle]:stroke-[4px]"
            >
              {/* Larger than it is seen, for a finger. */}
              <circle cx={x(at.x)} cy={y(at.y)} r="20" fill="transparent" stroke="none" />
              <circle cx={x(at.x)} cy={y(at.y)} r="11" fill="var(--action)" stroke="var(--ground)" strokeWidth="2" />
              <text x={x(at.x)} y={y(at.y) + 4.5} textAnchor="middle" fontSize="13" fontWeight="600" fill="var(--ground)">
                {k + 1}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="text-quiet mt-1 max-w-80 text-sm leading-snug">
        Microphone position around the listener’s head: drag, or use the arrow keys (1 cm a press).
      </figcaption>
    </figure>
  );
}

const aside = (metre: number, below: string, above: string): string => `${fixed(Math.abs(100 * metre), 0)} cm ${metre < 0 ? below : above}`;

/** A stretch of the plan that holds all of these, in the picture's shape. @returns its corner in metres, and pixels a metre */
function viewAround(points: readonly { x: number; y: number }[]): { x: number; y: number; scale: number } {
  const middle = (values: number[]): number => (Math.min(...values) + Math.max(...values)) / 2;
  const reach = (values: number[]): number => Math.max(...values) - Math.min(...values) + 2 * AROUND_METRE;
  const [xs, ys] = [points.map((point) => point.x), points.map((point) => point.y)];
  const scale = Math.min(WIDTH / Math.max(MIN_METRE, reach(xs)), HEIGHT / Math.max((MIN_METRE * HEIGHT) / WIDTH, reach(ys)));
  return { x: middle(xs) - WIDTH / scale / 2, y: middle(ys) - HEIGHT / scale / 2, scale };
}
