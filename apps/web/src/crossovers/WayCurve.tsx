import { likeName, type LikeVoices, type ProvedFilters } from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import type { JSX } from 'react';
import { CurveSample, lookOf } from '../ui/curveLooks.tsx';
import { FrequencyAxes } from '../ui/FrequencyAxes.tsx';
import { useWidth } from '../ui/useWidth.ts';
import { limitOf } from './laneBands.ts';
import { PICTURE_HZ, voiceCurve, type CurvePoint } from './curvePoints.ts';

const HEIGHT = 190;
const MARGIN = { top: 10, right: 14, bottom: 28, left: 40 };

/** What the drivers of one channel get, over what is safe for them. */
export function WayCurve({
  voices,
  proved,
  shares,
}: {
  voices: readonly LikeVoices[];
  proved: ProvedFilters;
  shares: readonly number[];
}): JSX.Element {
  const [ref, width] = useWidth();
  const x = scaleLog()
    .domain([PICTURE_HZ.from, PICTURE_HZ.to])
    .range([MARGIN.left, Math.max(MARGIN.left + 10, width - MARGIN.right)]);
  const y = scaleLinear()
    .domain([-36, 6])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top])
    .clamp(true);
  const path = line<CurvePoint>(
    ({ hertz }) => x(hertz),
    ({ value }) => y(value),
  );
  const limits = voices.map((voice, i) => limitOf(voice, shares[i] ?? 1));
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`What ${voices.map(likeName).join(' and ')} gets over frequency`}>
          {limits.map(
            (limit, i) =>
              limit !== undefined && (
                <rect
                  key={voices[i]!.id}
                  x={MARGIN.left}
                  y={MARGIN.top}
                  width={Math.max(0, x(Math.max(PICTURE_HZ.from, limit)) - MARGIN.left)}
                  height={HEIGHT - MARGIN.top - MARGIN.bottom}
                  fill="var(--attention)"
                  fillOpacity="0.1"
                />
              ),
          )}
          <FrequencyAxes x={x} y={y} ticks={[0, -12, -24, -36]} />
          {voices.map((voice, i) => {
            const { color, dash } = lookOf(i);
            return (
              <path
                key={voice.id}
                d={path(voiceCurve(voice, 'level', proved)) ?? ''}
                fill="none"
                stroke={color}
                strokeWidth="2.5"
                strokeDasharray={dash}
              />
            );
          })}
        </svg>
      )}
      <figcaption className="text-quiet flex flex-wrap gap-x-5 gap-y-1 pl-10 text-sm">
        {voices.map((voice, i) => (
          <span key={voice.id} className="flex items-center gap-2">
            <CurveSample index={i} />
            {likeName(voice)}, dB
          </span>
        ))}
        {limits.some((limit) => limit !== undefined) && (
          <span className="flex items-center gap-2">
            <span
              className="inline-block h-3 w-6 rounded-sm"
              style={{ background: 'color-mix(in srgb, var(--attention) 22%, var(--ground))' }}
              aria-hidden
            />
            too low for a corner
          </span>
        )}
      </figcaption>
    </figure>
  );
}
