import type { Finding } from '../../../findings.ts';
import { basisOf, type Basis } from '../../../job/basis.ts';
import type { Listening, Processor } from '../../../job/chain.ts';
import { delays } from '../../../phase/delays.ts';
import { fixed, formatQuantity } from '../../../units/formatQuantity.ts';
import { channelsNow } from '../../frame/channels.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, once, type Situation } from '../../frame/situation.ts';
import { defineKind, type Step } from '../../frame/stepKind.ts';

export interface DelaySubject {
  processor: Processor;
}

/** What one channel is delayed by, so that all arrive together. */
export interface DelayRow {
  channelId: string;
  name: string;
  isBass: boolean;
  /** left out where it was not measured yet */
  distanceMetre?: number;
  /** by its distance alone */
  wantedSecond?: number;
  /** on the processor's step, and no longer than it can */
  setSecond?: number;
  /** what rounding and the longest delay leave over, in seconds; above 0 it still comes too early */
  leftSecond?: number;
}

export interface DelayFigures {
  rows: DelayRow[];
  speedOfSound: number;
}

/** Steps that processors have: a sample at 48 kHz where nothing is said. */
export const USUAL_DELAY_STEP_SECOND = 1 / 48_000;
/** Less than this is heard by nobody. Common practice, no source */
const NOTABLE_LEFT_SECOND = 0.000_05;

const CHECK = { id: 'entered', words: 'delays entered in the processor' };

/** Every channel arrives at the listener together with the farthest one: by tape measure. */
export const delay = defineKind({
  kind: 'delay',
  stage: 'phase',
  title: 'Delays',
  help: 'distances to the listening place, and the delay of each channel in the processor',
  plays: 'nothing',
  isOptional: true,
  intakes: [],
  dependsOn: [],
  subjects: (now): DelaySubject[] => {
    const { processor, channels } = now.chain;
    return processor === undefined || channels.length < 2 ? [] : [{ processor }];
  },
  keyOf: () => 'all',
  words: ({ processor }) => ({ subject: 'all channels', where: processor.name, rail: 'Delays' }),
  channelsOf: () => [],
  checks: (_step, now) => ({ items: [CHECK], basis: delayBasis(delayRows(now)) }),
  judge: judgeDelay,
});

/** The delays of all channels, as they follow from the distances. */
export const delayRows = once((now: Situation): DelayRow[] => {
  const {
    distancesMetre = {},
    trimSecond = {},
    temperatureCelsius,
    stepSecond = USUAL_DELAY_STEP_SECOND,
    longestSecond,
  }: Listening = now.chain.listening ?? {};
  const channels = channelsNow(now).map(({ channel }) => channel);
  const known = Object.fromEntries(channels.flatMap(({ id }) => (distancesMetre[id] === undefined ? [] : [[id, distancesMetre[id]]])));
  const byTape =
    Object.keys(known).length === 0
      ? {}
      : delays({ distancesMetre: known, ...(temperatureCelsius === undefined ? {} : { temperatureCelsius }) }).delaysSecond;
  // What was found at a crossover is counted on top, with a tape measure or without.
  const isTrimmed = channels.some(({ id }) => (trimSecond[id] ?? 0) !== 0);
  const sums = channels.flatMap(({ id }) => {
    const base = byTape[id] ?? (isTrimmed && Object.keys(known).length === 0 ? 0 : undefined);
    return base === undefined ? [] : [[id, base + (trimSecond[id] ?? 0)] as const];
  });
  const least = Math.min(...sums.map(([, second]) => second));
  const wanted: Record<string, number> = Object.fromEntries(sums.map(([id, second]) => [id, second - least]));
  return channels.map(({ id, name, band }): DelayRow => {
    const wantedSecond = wanted[id];
    const row = { channelId: id, name, isBass: band === 'bass' };
    if (wantedSecond === undefined) return row;
    const most = longestSecond === undefined ? Infinity : Math.floor(longestSecond / stepSecond + 1e-9) * stepSecond;
    const setSecond = Math.min(most, Math.round(wantedSecond / stepSecond) * stepSecond);
    return {
      ...row,
      ...(known[id] === undefined ? {} : { distanceMetre: known[id] }),
      wantedSecond,
      setSecond,
      leftSecond: wantedSecond - setSecond,
    };
  });
});

/** What the tick stands for: these delays, in microseconds. */
const delayBasis = (rows: readonly DelayRow[]): Basis =>
  basisOf(
    { delays: rows.map(({ channelId, setSecond }) => [channelId, setSecond === undefined ? null : Math.round(setSecond * 1e6)]) },
    rows.flatMap(({ name, setSecond }) => (setSecond === undefined ? [] : [`${name} ${fixed(setSecond * 1000, 2)} ms`])).join(', '),
  );

function judgeDelay(step: Step<'delay', DelaySubject>, now: Situation): Judgement<DelayFigures> {
  const rows = delayRows(now);
  const figures = { rows, speedOfSound: delays({ distancesMetre: { a: 0 }, ...temperatureOf(now) }).speedOfSound };
  const missing = rows.filter(({ distanceMetre }) => distanceMetre === undefined);
  if (missing.length > 0) {
    const finding: Finding = {
      code: 'distance-missing',
      grade: 'note',
      figures: { missing: missing.length },
      words: `No distance yet: ${missing.map(({ name }) => name).join(', ')}.`,
      next: 'Measure from each driver to the listener’s head, and type it.',
    };
    return { status: 'open', figures, findings: [finding], action: { kind: 'describe', what: 'distances' } };
  }
  const findings = [...lateFindings(rows), ...bassFindings(rows)];
  const basis = delayBasis(rows);
  const mark = markAt(now, step.id);
  const action = { kind: 'tick', checks: [CHECK.id], basis: basis.key, basisWords: basis.words } as const;
  if (mark?.checks.includes(CHECK.id) !== true) return { status: 'open', figures, findings, action };
  if (mark.basis !== basis.key) {
    const stale: Finding = {
      code: 'delays-stale',
      grade: 'stale',
      figures: {},
      words: `Entered were: ${mark.basisWords ?? 'other delays'}. They are now: ${basis.words}.`,
      next: 'Enter them anew in the processor, and tick it.',
    };
    return { status: 'stale', figures, findings: [stale, ...findings], action };
  }
  const isOff = findings.some(({ grade }) => grade === 'attention');
  const done: Finding = {
    code: 'delays-entered',
    grade: 'good',
    figures: {},
    words: 'All arrive together, as far as a tape measure says.',
  };
  return isOff ? { status: 'out-of-tolerance', figures, findings, action } : { status: 'done', figures, findings: [done, ...findings] };
}

const temperatureOf = ({ chain: { listening } }: Situation): { temperatureCelsius?: number } =>
  listening?.temperatureCelsius === undefined ? {} : { temperatureCelsius: listening.temperatureCelsius };

function lateFindings(rows: readonly DelayRow[]): Finding[] {
  return rows
    .filter(({ leftSecond = 0 }) => Math.abs(leftSecond) > NOTABLE_LEFT_SECOND)
    .map(({ name, leftSecond = 0, wantedSecond = 0 }) => ({
      code: 'delay-too-long',
      grade: 'attention',
      figures: { leftSecond, wantedSecond },
      words: `${name} wants ${fixed(wantedSecond * 1000, 2)} ms; ${fixed(Math.abs(leftSecond) * 1000, 2)} ms are left over.`,
      next: 'The processor’s step is too coarse, or its longest delay too short: use a finer one, or delay all the others less.',
    }));
}

function bassFindings(rows: readonly DelayRow[]): Finding[] {
  const bass = rows.filter(({ isBass, setSecond }) => isBass && setSecond !== undefined);
  return bass.length === 0
    ? []
    : [
        {
          code: 'bass-by-phase',
          grade: 'note',
          figures: {},
          words: `${bass.map(({ name }) => name).join(', ')}: by tape this is a beginning only.`,
          next: `A wave of 80 Hz is ${formatQuantity(343 / 80, 'm')} long: set a subwoofer by what it and its neighbours make together at their crossover.`,
        },
      ];
}
