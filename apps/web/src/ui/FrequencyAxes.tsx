import { formatQuantity } from '@yield/core';
import type { ScaleLinear, ScaleLogarithmic } from 'd3-scale';
import type { JSX } from 'react';

const HERTZ = [10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000];

/** Lines and figures behind curves over frequency. The scales' ranges are the edges of the picture. */
export function FrequencyAxes({
  x,
  y,
  ticks,
  strongAt = 0,
  signed = true,
}: {
  x: ScaleLogarithmic<number, number>;
  y: ScaleLinear<number, number>;
  ticks: readonly number[];
  /** the line that is drawn heavier */
  strongAt?: number;
  /** whether figures above 0 show their plus */
  signed?: boolean;
}): JSX.Element {
  const [left, right] = x.range() as [number, number];
  const [bottom, top] = y.range() as [number, number];
  const [from, to] = x.domain() as [number, number];
  const shown = HERTZ.filter((hertz) => hertz >= from && hertz <= to);
  const labelled = withoutCollisions(shown, x);
  return (
    <g aria-hidden>
      {ticks.map((value) => (
        <g key={value}>
          <line x1={left} x2={right} y1={y(value)} y2={y(value)} stroke="var(--line)" strokeWidth={value === strongAt ? 2 : 1} />
          <text x={left - 8} y={y(value) + 4} fontSize="12" textAnchor="end" fill="var(--quiet)">
            {`${signed && value > 0 ? '+' : ''}${value}`.replace('-', '−')}
          </text>
        </g>
      ))}
      {shown.map((hertz) => (
        <g key={hertz}>
          <line x1={x(hertz)} x2={x(hertz)} y1={top} y2={bottom} stroke="var(--line)" />
          {labelled.includes(hertz) && (
            // At the picture's edge a figure in the middle would be cut off.
            <text
              x={x(hertz)}
              y={bottom + 18}
              fontSize="12"
              textAnchor={right - x(hertz) < LABEL_PX / 3 ? 'end' : 'middle'}
              fill="var(--quiet)"
            >
              {formatQuantity(hertz, 'Hz')}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}

const LABEL_PX = 54;

/** Figures that have room, from the left. */
function withoutCollisions(hertz: readonly number[], x: (hertz: number) => number): number[] {
  const kept: number[] = [];
  for (const each of hertz) {
    const last = kept.at(-1);
    if (last === undefined || x(each) - x(last) >= LABEL_PX) kept.push(each);
  }
  return kept;
}
