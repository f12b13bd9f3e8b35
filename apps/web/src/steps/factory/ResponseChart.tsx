import { formatQuantity, type OutputComparison } from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { CurveSample, lookOf } from '../../ui/curveLooks.tsx';
import { FrequencyAxes } from '../../ui/FrequencyAxes.tsx';
import { useWidth } from '../../ui/useWidth.ts';

const HEIGHT = 260;
const MARGIN = { top: 14, right: 12, bottom: 30, left: 44 };
/** One output's response at each volume, against its own passband. */
export function ResponseChart({ comparison }: { comparison: OutputComparison }): JSX.Element {
  const [ref, width] = useWidth();
  const { label, curves, heldBack } = comparison;
  const levels = curves.flatMap(({ points }) => points.map(({ db }) => db));
  const x = scaleLog()
    .domain([20, 20_000])
    .range([MARGIN.left, width - MARGIN.right]);
  const y = scaleLinear()
    .domain([Math.max(-30, Math.min(-9, ...levels) - 1), Math.min(15, Math.max(6, ...levels) + 1)])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top])
    .clamp(true);
  const path = line<{ hertz: number; db: number }>(
    ({ hertz }) => x(hertz),
    ({ db }) => y(db),
  );
  const words = curves.map(({ volume }) => `volume ${volume}`).join(', ');
  return (
    <figure className="min-w-0">
      <h2 className="text-sm font-semibold">{label}</h2>
      <div ref={ref}>
        {width > 0 && (
          <svg width={width} height={HEIGHT} role="img" aria-label={`Response of ${label} at ${words}`}>
            <FrequencyAxes x={x} y={y} ticks={y.ticks(6)} />
            {heldBack !== undefined && (
              <g>
                <path d={`M${x(heldBack.hertz) - 8} ${MARGIN.top}h16l-8 12z`} fill="var(--attention)" />
                <text x={x(heldBack.hertz) + 14} y={MARGIN.top + 10} fontSize="13" fontWeight="600" fill="var(--attention)">
                  {`${formatQuantity(heldBack.db, 'dB')} held back`}
                </text>
              </g>
            )}
            {curves.map(({ volume, points }, i) => {
              const look = lookOf(i);
              return (
                <path key={volume} d={path(points) ?? ''} fill="none" stroke={look.color} strokeWidth="2" strokeDasharray={look.dash} />
              );
            })}
          </svg>
        )}
      </div>
      <figcaption className="flex flex-wrap gap-x-5 gap-y-1 pl-11 text-sm">
        {curves.map(({ volume }, i) => (
          <span key={volume} className="flex items-center gap-2">
            <CurveSample index={i} />
            volume {volume}
          </span>
        ))}
        <span className="text-quiet">dB against its own passband</span>
      </figcaption>
    </figure>
  );
}
