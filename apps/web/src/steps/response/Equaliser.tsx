import {
  againstTarget,
  equaliserBoostDb,
  equaliserDb,
  fixed,
  formatQuantity,
  isSameData,
  levelAt,
  USUAL_TARGET_LEVEL_DB,
  wantedOf,
  smoothedLevels,
  targetShapeDb,
  type CurvePoint,
  type EqualiserAtHand,
  type EqualiserFilter,
  type EqualiserFitInput,
  type Fault,
  type LevelCurve,
  type PlaceCurve,
  type ResponseFigures,
  type ResponseTarget,
} from '@yield/core';
import { PencilLine, Save } from 'lucide-react';
import { useMemo, useState, type JSX } from 'react';
import { bandsCsv, leftFinding } from '../../loads/fitWords.ts';
import { FromGear } from '../../instruments/FromGear.tsx';
import { ChoiceField } from '../../ui/ChoiceField.tsx';
import { GradedLine } from '../../ui/FindingLine.tsx';
import { ErrorNotice } from '../../ui/Notice.tsx';
import { saveFile } from '../../ui/saveFile.ts';
import { useFit } from '../../workers/useFit.ts';
import type { ViewProps } from '../view.ts';
import { BAND_DB, Bands, type TriedBand } from './Bands.tsx';
import { curvesCsv } from './curvesCsv.ts';
import { ResponsePicture, type Moved } from './ResponsePicture.tsx';

const OCTAVES = [31.5, 63, 125, 250, 500, 1000, 2000, 4000, 8000, 16_000];
const THIRDS = [
  20, 25, 31.5, 40, 50, 63, 80, 100, 125, 160, 200, 250, 315, 400, 500, 630, 800, 1000, 1250, 1600, 2000, 2500, 3150, 4000, 5000, 6300,
  8000, 10_000, 12_500, 16_000,
];
const AT_HAND: Record<string, { label: string; value: EqualiserAtHand }> = {
  'parametric 5': { label: 'Five free bands', value: { kind: 'parametric', bands: 5, frequencyStepHz: 1, qStep: 0.1 } },
  'parametric 10': { label: 'Ten free bands', value: { kind: 'parametric', bands: 10, frequencyStepHz: 1, qStep: 0.1 } },
  octaves: { label: 'Graphic, octaves', value: { kind: 'graphic', centresHz: OCTAVES, q: 1.4 } },
  thirds: { label: 'Graphic, thirds', value: { kind: 'graphic', centresHz: THIRDS, q: 4.3 } },
  none: { label: 'None', value: { kind: 'none' } },
};

/** The choice of an equaliser that is none of those above, as the gear library has it. */
const OF_GEAR = 'gear';
const gearLabel = (equaliser: EqualiserAtHand): string =>
  equaliser.kind === 'graphic'
    ? `Graphic, ${equaliser.centresHz.length} bands`
    : equaliser.kind === 'parametric'
      ? `${equaliser.bands} free bands`
      : 'None';

interface Props extends ViewProps<'response'> {
  average: LevelCurve;
  target: LevelCurve;
  figures: ResponseFigures;
  onSet: (bands: readonly EqualiserFilter[]) => Promise<readonly Fault[]>;
  onAtHand: (equaliser: EqualiserAtHand) => void;
  /** the wanted curve, drawn by hand */
  onDrawn: (points: CurvePoint[]) => void;
}

/** The picture, and the bands that even it out: proposed, changed by hand, taken into the chain. */
export function Equaliser({ run, current, average, target, figures, onSet, onAtHand, onDrawn }: Props): JSX.Element {
  const { channel } = current.step;
  const set = useMemo(() => channel.equaliser ?? [], [channel.equaliser]);
  const atHand = run.tune.chain.body.equaliserAtHand ?? AT_HAND['parametric 5']!.value;
  const { range, present, before } = figures;
  const { levelDb = USUAL_TARGET_LEVEL_DB } = channel.responseTarget ?? {};
  const input = useMemo(
    (): EqualiserFitInput | undefined =>
      // What was measured through bands that are set is evened out already: a proposal on top would be one of leftovers.
      set.length > 0 || atHand.kind === 'none'
        ? undefined
        : { response: average, target, levelDb, ...reached(range, average), equaliser: atHand },
    [set, atHand, average, target, levelDb, range],
  );
  const { fit, faults, isBusy } = useFit(input);
  const [own, setOwn] = useState<{ of: string; bands: TriedBand[] }>();
  const proposed = useMemo(() => fit?.filters.filter(({ gainDb }) => gainDb !== 0) ?? [], [fit]);
  const source = set.length > 0 ? set : proposed;
  // A tick works everything out anew: what was changed by hand stays as long as what it was changed from is the same.
  const sourceKey = JSON.stringify(source);
  const bands: readonly TriedBand[] = own?.of === sourceKey ? own.bands : source;
  const on = bands.filter(({ isOff, gainDb }) => isOff !== true && gainDb !== 0).map(({ isOff: _off, ...band }) => band);
  const isChanged = !isSameData(on, set);
  const isMeasured = present.average !== undefined;
  // The bands that the average was measured through: those that are set, or none; through others nothing is told of these.
  const through = isMeasured ? set : [];
  const isTold = isMeasured ? isChanged : before.isWithoutBands === true && on.length > 0;
  const after: LevelCurve | undefined = !isTold
    ? undefined
    : {
        frequenciesHz: average.frequenciesHz,
        levelDb: average.levelDb.map((db, k) => {
          const hertz = average.frequenciesHz[k]!;
          return db - equaliserDb({ equaliser: through }, hertz) + equaliserDb({ equaliser: on }, hertz);
        }),
      };
  const wanted = wantedOf(channel, run.tune.settings);
  // As the verdict reckons it, whatever level the bands leave: two figures on one screen speak of one thing.
  const offDb = (curve: LevelCurve): number => againstTarget(curve, channel, range, wanted).offDb;
  const [drawn, setDrawn] = useState<CurvePoint[]>();
  const shownTarget = drawn === undefined ? target : againstTarget(average, channel, range, { ...wanted, points: drawn }).target;
  const points = drawn ?? channel.responseTarget?.points;
  const movedTarget: Moved = {
    color: 'var(--good)',
    handles: (points ?? []).map((point, k) => ({
      ...point,
      label: `Wanted at ${formatQuantity(point.hertz, 'Hz')}`,
      atDb: levelAt(shownTarget, within(shownTarget, point.hertz)),
      hertzWithin: [(points![k - 1]?.hertz ?? 10) * 1.02, (points![k + 1]?.hertz ?? 24_000) / 1.02],
      dbWithin: [-30, 30],
    })),
    onMove: (index, place) => setDrawn(points!.map((point, k) => (k === index ? place : point))),
    onEnd: () => {
      if (drawn !== undefined) onDrawn(drawn);
      setDrawn(undefined);
    },
  };
  const change = (next: TriedBand[]): void => setOwn({ of: sourceKey, bands: next });
  const isGraphic = atHand.kind === 'graphic';
  const { frequencyStepHz = 0 } = atHand.kind === 'parametric' ? atHand : {};
  // One that is off has nothing to be moved.
  const heldBands = bands.flatMap((band, index) => (band.isOff === true ? [] : [{ band, index }]));
  const movedBands: Moved = {
    color: 'var(--action)',
    // A band lies on what it makes of the response there, were it the only one.
    handles: heldBands.map(({ band: { frequencyHz, gainDb }, index }) => {
      const hertz = within(average, frequencyHz);
      return {
        label: `Band ${index + 1}, frequency and gain`,
        mark: `${index + 1}`,
        hertz,
        db: gainDb,
        atDb: levelAt(average, hertz) - equaliserDb({ equaliser: through }, hertz) + gainDb,
        hertzWithin: isGraphic ? [frequencyHz, frequencyHz] : reachOf(average),
        dbWithin: BAND_DB,
      };
    }),
    onMove: (k, { hertz, db }) => {
      const { band, index } = heldBands[k]!;
      const stepped = frequencyStepHz > 0 ? frequencyStepHz * Math.round(hertz / frequencyStepHz) : hertz;
      change(bands.with(index, { ...band, frequencyHz: isGraphic ? band.frequencyHz : stepped, gainDb: db }));
    },
  };
  const [octaves, setOctaves] = useState<Smoothing>('none');
  const smooth = useMemo(() => {
    const part = SMOOTHED[octaves];
    return <T extends LevelCurve>(curve: T): T => {
      if (part === 0) return curve;
      const levelOf = smoothedLevels(curve, part);
      return { ...curve, levelDb: curve.frequenciesHz.map((hertz) => levelOf(hertz)) };
    };
  }, [octaves]);
  const shownPlaces = isMeasured ? present.places : before.places;
  const smoothed = useMemo(() => ({ places: shownPlaces.map(smooth), average: smooth(average) }), [shownPlaces, average, smooth]);
  const noise = useMemo(() => noisiest(shownPlaces), [shownPlaces]);
  const [fault, setFault] = useState<string>();
  const take = async (next: readonly EqualiserFilter[]): Promise<void> => {
    const found = await onSet(next);
    setFault(found[0]?.message);
    if (found.length === 0) setOwn(undefined);
  };
  const boostDb = equaliserBoostDb({ equaliser: on });
  return (
    <div className="space-y-4">
      <ResponsePicture
        places={smoothed.places}
        noise={noise}
        average={smoothed.average}
        target={shownTarget}
        before={isMeasured && before.average !== undefined ? smooth(before.average) : undefined}
        after={after === undefined ? undefined : smooth(after)}
        range={range}
        moved={atHand.kind === 'none' ? [movedTarget] : [movedTarget, movedBands]}
      />
      <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
        <ChoiceField
          label="Equaliser at hand"
          value={Object.keys(AT_HAND).find((key) => isSameData(AT_HAND[key]!.value, atHand)) ?? OF_GEAR}
          choices={[
            ...Object.entries(AT_HAND).map(([value, { label }]) => ({ value, label })),
            ...(Object.values(AT_HAND).some(({ value }) => isSameData(value, atHand))
              ? []
              : [{ value: OF_GEAR, label: gearLabel(atHand) }]),
          ]}
          onChange={(key) => onAtHand(AT_HAND[key]?.value ?? atHand)}
        />
        <ChoiceField
          label="Shown smoothed"
          value={octaves}
          choices={Object.keys(SMOOTHED).map((value) => ({ value: value as Smoothing, label: SMOOTH_WORDS[value as Smoothing] }))}
          onChange={setOctaves}
        />
        <button
          type="button"
          className="btn btn-ghost text-action btn-tall"
          onClick={() => saveFile(curvesCsv(shownPlaces, average, target), 'response.csv', 'text/csv')}
        >
          <Save size={18} aria-hidden /> Curves as CSV
        </button>
        <FromGear kind="equaliser" onTake={({ equaliser }) => onAtHand(equaliser)} />
        {points === undefined && (
          <button type="button" className="btn btn-ghost text-action btn-tall" onClick={() => onDrawn(drawnFrom(wanted, range))}>
            <PencilLine size={18} aria-hidden /> Draw what is wanted
          </button>
        )}
      </div>
      {atHand.kind !== 'none' && (
        <>
          <h2 className="text-xl font-semibold" data-testid="proposal">
            {set.length > 0
              ? `${set.length} ${set.length === 1 ? 'band is' : 'bands are'} set`
              : isBusy
                ? 'Working out a proposal …'
                : fit === undefined
                  ? 'No proposal'
                  : `Proposed: ${fixed(offDb(average), 1)} dB off before, ${fixed(offDb(after ?? average), 1)} dB after`}
          </h2>
          {faults.map(({ message }) => (
            <p key={message} role="alert" className="text-stop">
              {message}
            </p>
          ))}
          <Bands bands={bands} most={atHand.kind === 'parametric' ? atHand.bands : bands.length} onChange={change} />
          <div className="space-y-2">
            {boostDb > 0.1 && (
              <GradedLine
                grade="note"
                text={`Boosts take ${formatQuantity(boostDb, 'dB')} of headroom: the gain’s target goes down by it.`}
                next="Its gain is read again afterwards."
              />
            )}
            {set.length === 0 &&
              fit?.left
                .filter(({ reason }) => reason !== 'outside')
                .map((stretch) => <GradedLine key={`${stretch.reason} ${stretch.fromHz}`} {...leftFinding(stretch)} />)}
          </div>
          <div className="flex flex-wrap gap-3">
            {isChanged && on.length > 0 && (
              <button type="button" className="btn btn-primary btn-tall" onClick={() => void take(on)}>
                {set.length > 0 ? 'Apply changes' : 'Use these bands'}
              </button>
            )}
            {set.length > 0 && (
              <button type="button" className="btn btn-tall" onClick={() => void take([])}>
                Take them back
              </button>
            )}
            {on.length > 0 && (
              <button type="button" className="btn btn-ghost btn-tall" onClick={() => saveFile(bandsCsv(on), 'equaliser.csv', 'text/csv')}>
                <Save size={18} aria-hidden /> Save as CSV
              </button>
            )}
          </div>
          {fault !== undefined && <ErrorNotice>{fault}</ErrorNotice>}
        </>
      )}
    </div>
  );
}

const reachOf = ({ frequenciesHz }: LevelCurve): [number, number] => [frequenciesHz[0]!, frequenciesHz.at(-1)!];
const within = (curve: LevelCurve, hertz: number): number => {
  const [low, high] = reachOf(curve);
  return Math.max(low, Math.min(high, hertz));
};

/** The highest noise of all places, where any of them tells its own. */
function noisiest(places: readonly PlaceCurve[]): LevelCurve | undefined {
  const most = new Map<number, number>();
  for (const { beside } of places) {
    beside?.noise.frequenciesHz.forEach((hertz, k) => most.set(hertz, Math.max(most.get(hertz) ?? -Infinity, beside.noise.levelDb[k]!)));
  }
  const points = [...most].sort(([a], [b]) => a - b);
  return points.length < 2 ? undefined : { frequenciesHz: points.map(([hertz]) => hertz), levelDb: points.map(([, db]) => db) };
}

/** Parts of an octave that the picture is smoothed over; the figures are not. */
const SMOOTHED = { none: 0, sixth: 6, third: 3, octave: 1 } as const;
type Smoothing = keyof typeof SMOOTHED;
const SMOOTH_WORDS: Record<Smoothing, string> = { none: 'No', sixth: '1/6', third: '1/3', octave: 'Octave' };

/** What is wanted already as points two octaves or less apart, to go on from by hand. */
function drawnFrom(wanted: ResponseTarget, { fromHz, toHz }: { fromHz: number; toHz: number }): CurvePoint[] {
  const octaves = Math.log2(toHz / fromHz);
  const count = Math.max(3, Math.ceil(octaves / 1.5) + 1);
  const middle = Math.sqrt(fromHz * toHz);
  // Tilt and shelf go on beside the points: these begin at what the points add.
  return Array.from({ length: count }, (_, k) => {
    const hertz = Number((fromHz * 2 ** ((k * octaves) / (count - 1))).toPrecision(3));
    return { hertz, db: Number(targetShapeDb({ points: wanted.points ?? [] }, hertz, middle).toFixed(1)) };
  });
}

/** The part of the range that was measured. */
const reached = ({ fromHz, toHz }: { fromHz: number; toHz: number }, { frequenciesHz }: LevelCurve) => ({
  fromHz: Math.max(fromHz, frequenciesHz[0]!),
  toHz: Math.min(toHz, frequenciesHz.at(-1)!),
});
