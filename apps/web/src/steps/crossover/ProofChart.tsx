import {
  filterAt,
  filterWords,
  formatQuantity,
  foundFilter,
  proofLevels,
  type ActiveFilter,
  type Filter,
  type FilterProof,
} from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { lookOf } from '../../ui/curveLooks.tsx';
import { FrequencyAxes } from '../../ui/FrequencyAxes.tsx';
import { useWidth } from '../../ui/useWidth.ts';

const HEIGHT = 230;
const MARGIN = { top: 12, right: 14, bottom: 28, left: 40 };

/** The voltages that were read, the filter that they speak for, and the one that was set. */
export function ProofChart({ filter, proof }: { filter: ActiveFilter; proof: FilterProof }): JSX.Element {
  const [ref, width] = useWidth();
  const found = foundFilter(proof);
  const corners = [filter.cornerHz, found?.cornerHz ?? filter.cornerHz, ...proof.points.map(({ frequencyHz }) => frequencyHz)];
  const [from, to] = [Math.min(...corners) / 2.5, Math.max(...corners) * 2.5];
  const points = proofLevels(proof);
  const lowest = Math.min(-24, ...points.map(({ db }) => db - 3));
  const x = scaleLog()
    .domain([from, to])
    .range([MARGIN.left, Math.max(MARGIN.left + 10, width - MARGIN.right)]);
  const y = scaleLinear()
    .domain([Math.max(-60, lowest), 4])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top]);
  const curve = (of: Filter): string =>
    line<number>(
      (hertz) => x(hertz),
      (hertz) => y(filterAt(of, hertz).db),
    )(Array.from({ length: 120 }, (_, i) => from * (to / from) ** (i / 119))) ?? '';
  const [set, measured] = [lookOf(1), lookOf(0)];
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`Voltages over frequency, ${proof.fitPoints.length} that count`}>
          <clipPath id="proof-curves">
            <rect
              x={MARGIN.left}
              y={MARGIN.top}
              width={Math.max(0, width - MARGIN.left - MARGIN.right)}
              height={HEIGHT - MARGIN.top - MARGIN.bottom}
            />
          </clipPath>
          <FrequencyAxes x={x} y={y} ticks={y.ticks(6)} />
          <path clipPath="url(#proof-curves)" d={curve(filter)} fill="none" stroke={set.color} strokeWidth="2" strokeDasharray={set.dash} />
          {found !== undefined && (
            <path clipPath="url(#proof-curves)" d={curve(found)} fill="none" stroke={measured.color} strokeWidth="2.5" />
          )}
          {points.map(({ hertz, db }) => (
            <rect
              key={hertz}
              x={x(hertz) - 4.5}
              y={y(db) - 4.5}
              width={9}
              height={9}
              transform={`rotate(45 ${x(hertz)} ${y(db)})`}
              fill="var(--ground)"
              stroke={measured.color}
              strokeWidth="2.5"
            >
              <title>{`${formatQuantity(hertz, 'Hz')}: ${formatQuantity(db, 'dB')}`}</title>
            </rect>
          ))}
        </svg>
      )}
      <figcaption className="flex flex-wrap gap-x-6 gap-y-1 pl-10 text-sm">
        <span className="flex items-center gap-2">
          <Sample color={set.color} dash={set.dash} /> set: {filterWords(filter)}
        </span>
        {found !== undefined && (
          <span className="flex items-center gap-2">
            <Sample color={measured.color} /> measured: {filterWords(found)}
          </span>
        )}
        <span className="text-quiet">dB against the passband</span>
      </figcaption>
    </figure>
  );
}

function Sample({ color, dash }: { color: string; dash?: string | undefined }): JSX.Element {
  return (
    <svg width="26" height="8" aria-hidden>
      <line x1="0" x2="26" y1="4" y2="4" stroke={color} strokeWidth="2.5" strokeDasharray={dash} />
    </svg>
  );
}
