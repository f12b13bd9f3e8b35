import {
  fixed,
  groupName,
  meetingCurves,
  neighbourSettingWords,
  neighbourTries,
  signedDb,
  USUAL_DELAY_STEP_SECOND,
  type MeetingFigures,
  type MeetingSubject,
  type NeighbourSetting,
} from '@yield/core';
import { scaleLinear, scaleLog } from 'd3-scale';
import { line } from 'd3-shape';
import { useMemo, useRef, useState, type JSX, type PointerEvent } from 'react';
import type { TuneRun } from '../../tune/useTuneRun.ts';
import { CurveSample, lookOf } from '../../ui/curveLooks.tsx';
import { FrequencyAxes } from '../../ui/FrequencyAxes.tsx';
import { useWidth } from '../../ui/useWidth.ts';

const HEIGHT = 250;
const DEEPEST_DB = 24;
const MARGIN = { top: 10, right: 14, bottom: 28, left: 44 };
/** Further than this nothing in a vehicle is apart. */
const MAX_SECOND = 0.012;
/** One pixel of a drag. */
const DRAG_SECOND = 0.000_02;

const TRY_NAMES = { polarity: 'Polarity', delay: 'Delay', corner: 'Corner', slope: 'Slope' } as const;

interface Props {
  run: TuneRun;
  step: MeetingSubject;
  figures: MeetingFigures;
  onTake: (setting: NeighbourSetting) => void;
}

/** What another delay or polarity should make: dragged on the picture or stepped by key, and taken when it is set in the processor. */
export function Trial({ run, step, figures, onTake }: Props): JSX.Element {
  const { setting: present, alignment } = figures;
  const [tried, setTried] = useState<NeighbourSetting>();
  const setting = tried ?? present;
  const { stepSecond = USUAL_DELAY_STEP_SECOND } = run.tune.chain.body.listening ?? {};
  const names = { lower: groupName(step.lower), upper: groupName(step.upper) };
  const onStep = (second: number): number => Math.max(-MAX_SECOND, Math.min(MAX_SECOND, Math.round(second / stepSecond) * stepSecond));
  const change = (changes: Partial<NeighbourSetting>): void => setTried({ ...setting, ...changes });
  const curves = meetingCurves(step, run.now, figures, setting);
  const tries = useMemo(() => neighbourTries(step, run.now, figures), [step, run.now, figures]);
  const middle = curves.hertz.findIndex((hertz) => hertz >= step.cornerHz);
  const lostDb = curves.sumDb[middle]! - curves.inPhaseDb[middle]!;
  const isOther = setting.isReversed !== present.isReversed || Math.abs(setting.delaySecond - present.delaySecond) > stepSecond / 2;
  return (
    <section aria-label="What a change should make" className="space-y-3">
      <Picture curves={curves} onDrag={(bySecond) => change({ delaySecond: onStep(setting.delaySecond + bySecond) })} />
      <div className="flex flex-wrap items-end gap-x-6 gap-y-3">
        <label className="block min-w-56 flex-1">
          <span className="label mb-1 block">
            {names.lower} against {names.upper}
          </span>
          <input
            type="range"
            className="range w-full"
            min={-MAX_SECOND}
            max={MAX_SECOND}
            step={stepSecond}
            value={setting.delaySecond}
            aria-valuetext={neighbourSettingWords(setting, names)}
            onChange={(event) => change({ delaySecond: onStep(Number(event.target.value)) })}
          />
        </label>
        <label className="flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            className="checkbox"
            checked={setting.isReversed}
            onChange={(event) => change({ isReversed: event.target.checked })}
          />
          {names.lower} reversed
        </label>
      </div>
      <p className="max-w-3xl leading-snug">
        <span className="font-semibold">{neighbourSettingWords(setting, names)}:</span>{' '}
        {alignment === undefined
          ? 'by the filters alone; the way between the two is known once all levels are read.'
          : `${signedDb(lostDb)} at the corner at the crossover compared with being in phase. The time difference is known to ${fixed(alignment.laterOffSecond * 1000, 2)} ms.`}
      </p>
      {tries.length > 0 && (
        <div>
          <h3 className="label">What to try, in this order, each alone</h3>
          <ol className="mt-1 grid max-w-3xl gap-y-1" aria-label="What to try">
            {tries.map(({ what, words, gainDb, setting: wanted }) => (
              <li key={what} className="grid min-h-9 grid-cols-[5rem_4.5rem_minmax(0,1fr)] items-baseline gap-x-3">
                <span className="text-quiet">{TRY_NAMES[what]}</span>
                <span className="text-right font-semibold">{signedDb(gainDb)}</span>
                {wanted === undefined ? (
                  <span>{words}</span>
                ) : (
                  <button type="button" className="text-action text-left font-medium hover:underline" onClick={() => setTried(wanted)}>
                    {words}
                  </button>
                )}
              </li>
            ))}
          </ol>
          <p className="text-quiet text-sm">
            By the filters{alignment === undefined ? ' alone' : ' and by what was measured'}. A corner or a slope is changed under
            Crossovers, and what was measured here is then measured again.
          </p>
        </div>
      )}
      {isOther && (
        <div className="flex flex-wrap gap-3">
          <button
            type="button"
            className="btn btn-tall"
            onClick={() => {
              onTake(setting);
              setTried(undefined);
            }}
          >
            Take this one
          </button>
          <button type="button" className="btn btn-ghost btn-tall text-action" onClick={() => setTried(undefined)}>
            Back to what is set
          </button>
        </div>
      )}
    </section>
  );
}

function Picture({ curves, onDrag }: { curves: ReturnType<typeof meetingCurves>; onDrag: (bySecond: number) => void }): JSX.Element {
  const [ref, width] = useWidth();
  const held = useRef<number>(undefined);
  const right = Math.max(MARGIN.left + 10, width - MARGIN.right);
  const { hertz, lowerDb, upperDb, sumDb, inPhaseDb } = curves;
  const top = Math.max(...inPhaseDb);
  const x = scaleLog()
    .domain([hertz[0]!, hertz.at(-1)!])
    .range([MARGIN.left, right]);
  const y = scaleLinear()
    .domain([top - DEEPEST_DB, top + 2])
    .range([HEIGHT - MARGIN.bottom, MARGIN.top])
    .clamp(true);
  const rows = [
    { name: 'lower', levels: lowerDb, look: lookOf(0), width: 2 },
    { name: 'upper', levels: upperDb, look: lookOf(1), width: 2 },
    { name: 'in phase', levels: inPhaseDb, look: { color: 'var(--quiet)', dash: '2 4' }, width: 2 },
    { name: 'both', levels: sumDb, look: { color: 'var(--ink)', dash: undefined }, width: 3 },
  ];
  const drag = (event: PointerEvent<SVGSVGElement>): void => {
    if (held.current === undefined) return;
    const by = event.clientX - held.current;
    if (Math.abs(by) < 1) return;
    held.current = event.clientX;
    onDrag(by * DRAG_SECOND);
  };
  return (
    <figure ref={ref} className="min-w-0">
      {width > 0 && (
        <svg
          width={width}
          height={HEIGHT}
          role="img"
          aria-label="Both ways around their crossover, and what they should make together"
          className="cursor-ew-resize touch-pan-y"
          onPointerDown={(event) => {
            event.currentTarget.setPointerCapture(event.pointerId);
            held.current = event.clientX;
          }}
          onPointerMove={drag}
          onPointerUp={() => (held.current = undefined)}
          onPointerCancel={() => (held.current = undefined)}
        >
          <FrequencyAxes x={x} y={y} ticks={y.ticks(5)} strongAt={Number.NaN} signed={false} />
          {rows.map(({ name, levels, look, width: stroke }) => (
            <path
              key={name}
              d={
                line<number>(
                  (_, i) => x(hertz[i]!),
                  (db) => y(db),
                ).defined((db) => db > top - DEEPEST_DB)(levels) ?? ''
              }
              fill="none"
              stroke={look.color}
              strokeWidth={stroke}
              strokeDasharray={look.dash}
            />
          ))}
        </svg>
      )}
      <figcaption className="text-quiet mt-1 flex flex-wrap gap-x-5 text-sm">
        <span className="flex items-center gap-2">
          <CurveSample index={0} /> the lower one, dB
        </span>
        <span className="flex items-center gap-2">
          <CurveSample index={1} /> the upper one
        </span>
        <span>thick: both together; dotted: if they were in phase. Drag sideways for the delay.</span>
      </figcaption>
    </figure>
  );
}
