import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { CurveSample, lookOf } from '../ui/curveLooks.tsx';
import { FrequencyAxes } from '../ui/FrequencyAxes.tsx';
import { useWidth } from '../ui/useWidth.ts';

const HEIGHT = 260;
const MARGIN = { top: 12, right: 14, bottom: 28, left: 44 };

/** A response before and after its filters; what lies outside of the range is shaded. */
export function FitPicture({
  frequenciesHz,
  before,
  after,
  range,
}: {
  frequenciesHz: readonly number[];
  before: readonly number[];
  after: readonly number[];
  range: { from: number; to: number };
}): JSX.Element {
  const [ref, width] = useWidth();
  const right = Math.max(MARGIN.left + 10, width - MARGIN.right);
  const [first, last] = [frequenciesHz[0]!, frequenciesHz.at(-1)!];
  const x = scaleLog().domain([first, last]).range([MARGIN.left, right]);
  const all = [...before, ...after];
  const y = scaleLinear()
    .domain([Math.min(...all) - 2, Math.max(...all) + 2])
    .nice(5)
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const curves = [
    { name: 'before', levels: before, look: lookOf(1) },
    { name: 'after', levels: after, look: lookOf(0) },
  ];
  const shade = (from: number, to: number): JSX.Element => (
    <rect
      x={from}
      y={MARGIN.top}
      width={Math.max(0, to - from)}
      height={HEIGHT - MARGIN.top - MARGIN.bottom}
      fill="var(--quiet)"
      fillOpacity="0.1"
    />
  );
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label="Response before and after the filters">
          {shade(MARGIN.left, x(Math.max(first, range.from)))}
          {shade(x(Math.min(last, range.to)), right)}
          <FrequencyAxes x={x} y={y} ticks={y.ticks(5)} strongAt={Number.NaN} signed={false} />
          {curves.map(({ name, levels, look }) => (
            <path
              key={name}
              d={
                line<number>(
                  (_, i) => x(frequenciesHz[i]!),
                  (db) => y(db),
                )([...levels]) ?? ''
              }
              fill="none"
              stroke={look.color}
              strokeWidth="2.5"
              strokeDasharray={look.dash}
            />
          ))}
        </svg>
      )}
      <figcaption className="text-quiet mt-1 flex flex-wrap gap-x-5 text-sm">
        <span className="flex items-center gap-2">
          <CurveSample index={1} /> before, dB
        </span>
        <span className="flex items-center gap-2">
          <CurveSample index={0} /> after
        </span>
      </figcaption>
    </figure>
  );
}
