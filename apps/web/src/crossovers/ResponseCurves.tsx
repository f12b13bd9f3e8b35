import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import { useId, type JSX } from 'react';
import { CurveSample, lookOf } from '../ui/curveLooks.tsx';
import { FrequencyAxes } from '../ui/FrequencyAxes.tsx';
import { useWidth } from '../ui/useWidth.ts';
import { FREQUENCIES, PICTURE_HZ } from './curvePoints.ts';

const HEIGHT = 190;
const MARGIN = { top: 10, right: 14, bottom: 28, left: 40 };
/** Far below the picture: nothing comes through. */
const NOTHING_DB = -200;

interface Curve {
  name: string;
  db: (hertz: number) => number;
}

/** A few responses over frequency, in decibels; what lies below a safe corner is shaded. */
export function ResponseCurves({
  label,
  curves,
  unsafeBelowHz,
}: {
  label: string;
  curves: readonly Curve[];
  unsafeBelowHz?: number | undefined;
}): JSX.Element {
  const [ref, width] = useWidth();
  const clip = useId();
  const x = scaleLog()
    .domain([PICTURE_HZ.from, PICTURE_HZ.to])
    .range([MARGIN.left, Math.max(MARGIN.left + 10, width - MARGIN.right)]);
  const y = scaleLinear()
    .domain([-36, 6])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const [inner, height] = [Math.max(0, width - MARGIN.left - MARGIN.right), HEIGHT - MARGIN.top - MARGIN.bottom];
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={label}>
          <clipPath id={clip}>
            <rect x={MARGIN.left} y={MARGIN.top} width={inner} height={height} />
          </clipPath>
          {unsafeBelowHz !== undefined && (
            <rect
              x={MARGIN.left}
              y={MARGIN.top}
              width={Math.min(inner, Math.max(0, x(unsafeBelowHz) - MARGIN.left))}
              height={height}
              fill="var(--attention)"
              fillOpacity="0.1"
            />
          )}
          <FrequencyAxes x={x} y={y} ticks={[0, -12, -24, -36]} />
          <g clipPath={`url(#${clip})`}>
            {curves.map(({ name, db }, i) => {
              const { color, dash } = lookOf(i);
              const path = line<number>(
                (hertz) => x(hertz),
                (hertz) => y(Math.max(NOTHING_DB, db(hertz))),
              );
              return (
                <path key={name} d={path([...FREQUENCIES]) ?? ''} fill="none" stroke={color} strokeWidth="2.5" strokeDasharray={dash} />
              );
            })}
          </g>
        </svg>
      )}
      <figcaption className="text-quiet flex flex-wrap gap-x-5 gap-y-1 pl-10 text-sm">
        {curves.map(({ name }, i) => (
          <span key={name} className="flex items-center gap-2">
            <CurveSample index={i} />
            {name}
          </span>
        ))}
        {unsafeBelowHz !== undefined && (
          <span className="flex items-center gap-2">
            <span
              className="inline-block h-3 w-6 rounded-sm"
              style={{ background: 'color-mix(in srgb, var(--attention) 22%, var(--ground))' }}
              aria-hidden
            />
            too low for a corner
          </span>
        )}
        <span>in decibels</span>
      </figcaption>
    </figure>
  );
}
