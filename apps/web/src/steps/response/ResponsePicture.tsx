import { type LevelCurve, type PlaceCurve } from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import { useMemo, type JSX } from 'react';
import { FrequencyAxes } from '../../ui/FrequencyAxes.tsx';
import { useWidth } from '../../ui/useWidth.ts';
import { CurveHandles, type CurveHandle } from './CurveHandles.tsx';

const HEIGHT = 280;
const MARGIN = { top: 12, right: 14, bottom: 28, left: 44 };
/** Below the loudest, what lies deeper is noise or a null. */
const SHOWN_DB = 36;

/** Handles of one kind, in one colour. */
export interface Moved {
  color: string;
  handles: readonly CurveHandle[];
  onMove: (index: number, place: { hertz: number; db: number }) => void;
  onEnd?: () => void;
}

interface Props {
  places: readonly PlaceCurve[];
  average: LevelCurve;
  target: LevelCurve;
  before?: LevelCurve | undefined;
  /** the most that any place has, by thirds of an octave */
  noise?: LevelCurve | undefined;
  /** with the bands that are tried */
  after?: LevelCurve | undefined;
  range: { fromHz: number; toHz: number };
  /** what is moved by hand: points of the wanted curve, and bands */
  moved: readonly Moved[];
}

/** What arrives at each place, their average, what is wanted, and what the bands should make of it. */
export function ResponsePicture({ places, noise, average, target, before, after, range, moved }: Props): JSX.Element {
  const [ref, width] = useWidth();
  const right = Math.max(MARGIN.left + 10, width - MARGIN.right);
  const { frequenciesHz } = average;
  const [first, last] = [Math.max(frequenciesHz[0]!, range.fromHz / 2), Math.min(frequenciesHz.at(-1)!, range.toHz * 2)];
  const inside = frequenciesHz.flatMap((hertz, k) => (hertz >= first && hertz <= last ? [average.levelDb[k]!] : []));
  const top = Math.max(...inside) + 6;
  const x = scaleLog().domain([first, last]).range([MARGIN.left, right]).clamp(false);
  const y = scaleLinear()
    .domain([top - SHOWN_DB, top])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top])
    .clamp(true);
  const path = (curve: LevelCurve): string =>
    line<number>(
      (hertz) => x(hertz),
      (_, k) => y(curve.levelDb[k]!),
    ).defined((hertz, k) => hertz >= first && hertz <= last && curve.levelDb[k]! > top - SHOWN_DB)([...curve.frequenciesHz]) ?? '';
  // While a band is dragged these stay: only the last path is drawn anew.
  const still = useMemo(
    () => (
      <>
        {places.map((each) => (
          <path key={each.place} d={path(each)} fill="none" stroke="var(--quiet)" strokeWidth="1" opacity="0.55" />
        ))}
        {noise !== undefined && <path d={path(noise)} fill="none" stroke="var(--quiet)" strokeWidth="1.5" strokeDasharray="1 4" />}
        {before !== undefined && <path d={path(before)} fill="none" stroke="var(--wave-3)" strokeWidth="2" strokeDasharray="6 4" />}
        <path d={path(target)} fill="none" stroke="var(--good)" strokeWidth="2" strokeDasharray="2 4" />
        <path d={path(average)} fill="none" stroke="var(--ink)" strokeWidth="3" />
      </>
    ),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the scales follow from these
    [places, noise, average, target, before, width, range.fromHz, range.toHz],
  );
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg
          width={width}
          height={HEIGHT}
          role={moved.every(({ handles }) => handles.length === 0) ? 'img' : 'group'}
          aria-label="Response at each position, their average and the target"
        >
          <rect
            x={x(range.fromHz)}
            y={MARGIN.top}
            width={Math.max(0, x(range.toHz) - x(range.fromHz))}
            height={HEIGHT - MARGIN.top - MARGIN.bottom}
            fill="var(--raised)"
          />
          <FrequencyAxes x={x} y={y} ticks={y.ticks(6)} strongAt={Number.NaN} signed={false} />
          {still}
          {after !== undefined && <path data-curve d={path(after)} fill="none" stroke="var(--action)" strokeWidth="2.5" />}
          {moved.map((each) => (
            <CurveHandles key={each.color} {...each} x={x} y={y} />
          ))}
        </svg>
      )}
      <figcaption className="text-quiet mt-1 flex flex-wrap gap-x-5 text-sm">
        <Key color="var(--ink)" words="average, dB" />
        {places.length > 1 && <Key color="var(--quiet)" words="each place" />}
        {noise !== undefined && path(noise) !== '' && <Key color="var(--quiet)" dash="1 4" words="noise" />}
        <Key color="var(--good)" dash="2 4" words="wanted" />
        {before !== undefined && <Key color="var(--wave-3)" dash="6 4" words="measured before" />}
        {after !== undefined && <Key color="var(--action)" words="with these bands" />}
      </figcaption>
    </figure>
  );
}

const Key = ({ color, dash, words }: { color: string; dash?: string; words: string }): JSX.Element => (
  <span className="flex items-center gap-2">
    <svg width="24" height="8" aria-hidden>
      <line x1="0" x2="24" y1="4" y2="4" stroke={color} strokeWidth="2.5" strokeDasharray={dash} />
    </svg>
    {words}
  </span>
);
