import { fixed, formatQuantity, type PlaceCurve, type PlaceQuality } from '@yield/core';
import type { JSX } from 'react';

/** Clocks that differ by less are as good as one. */
const NOTABLE_PPM = 5;

/** The places that were recorded, numbered as on the plan, each with what lies beside its curve. */
export function Recorded({ places, quality }: { places: readonly PlaceCurve[]; quality: readonly PlaceQuality[] }): JSX.Element {
  return (
    <ol className="space-y-1.5" aria-label="Recorded places">
      {places.map(({ place }, k) => {
        const found = quality.find((each) => each.place === place);
        return (
          <li key={place} className="flex gap-2.5">
            <span className="bg-action text-ground grid size-6 shrink-0 place-items-center rounded-full text-sm font-semibold" aria-hidden>
              {k + 1}
            </span>
            <span className="min-w-0 break-words">
              {place}
              {found !== undefined && <span className="text-quiet block text-sm">{words(found)}</span>}
            </span>
          </li>
        );
      })}
    </ol>
  );
}

function words({ nearestNoise, mostDistortion, driftPpm }: PlaceQuality): string {
  return [
    nearestNoise === undefined
      ? 'too short a recording to tell its noise'
      : `noise ${fixed(Math.max(0, nearestNoise.underDb), 0)} dB or more below`,
    ...(mostDistortion === undefined
      ? []
      : [`distortion up to ${formatPercent(mostDistortion.percent)} at ${formatQuantity(mostDistortion.hertz, 'Hz')}`]),
    ...(Math.abs(driftPpm) < NOTABLE_PPM
      ? []
      : [
          `the recorder’s clock ${driftPpm > 0 ? 'fast' : 'slow'} by ${fixed(Math.abs(driftPpm), 0)} parts in a million, which moves no level`,
        ]),
  ].join(' · ');
}

const formatPercent = (percent: number): string => `${fixed(percent, percent < 10 ? 1 : 0)} %`;
