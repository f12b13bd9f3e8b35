import { formatQuantity, type OutputComparison } from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { CurveSample, lookOf } from '../ui/curveLooks.tsx';
import { useWidth } from '../ui/useWidth.ts';

const HEIGHT = 260;
const MARGIN = { top: 14, right: 12, bottom: 30, left: 44 };
const HERTZ = [20, 50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000];
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
            {y.ticks(6).map((db) => (
              <g key={db}>
                <line
                  x1={MARGIN.left}
                  x2={width - MARGIN.right}
                  y1={y(db)}
                  y2={y(db)}
                  stroke="var(--line)"
                  strokeWidth={db === 0 ? 2 : 1}
                />
                <text x={MARGIN.left - 8} y={y(db) + 4} fontSize="12" textAnchor="end" fill="var(--quiet)">
                  {`${db > 0 ? '+' : ''}${db}`.replace('-', '−')}
                </text>
              </g>
            ))}
            {HERTZ.map((hertz, i) => (
              <g key={hertz}>
                <line x1={x(hertz)} x2={x(hertz)} y1={MARGIN.top} y2={HEIGHT - MARGIN.bottom} stroke="var(--line)" />
                {(width > 480 || i % 3 === 0) && (
                  <text
                    x={x(hertz)}
                    y={HEIGHT - MARGIN.bottom + 18}
                    fontSize="12"
                    textAnchor={hertz === 20_000 ? 'end' : 'middle'}
                    fill="var(--quiet)"
                  >
                    {formatQuantity(hertz, 'Hz')}
                  </text>
                )}
              </g>
            ))}
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
