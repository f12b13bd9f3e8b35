import type { Finding } from '../../../findings.ts';
import { basisOf, type Basis } from '../../../job/basis.ts';
import type { Listening, Processor } from '../../../job/chain.ts';
import { settingKey } from '../../../job/channelEqualiser.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import { delays } from '../../../phase/delays.ts';
import { LONG_SWEEP } from '../../../tones/sweepSpec.ts';
import { fixed } from '../../../units/formatQuantity.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { airConditions } from '../../frame/played.ts';
import type { Judgement } from '../../frame/judgement.ts';
import { markAt, once, stepId, tracesAt, type Situation } from '../../frame/situation.ts';
import { defineKind, type Check, type Step } from '../../frame/stepKind.ts';

export interface DelaySubject {
  processor: Processor;
  /** all of them: a sweep plays through each */
  channels: ChannelNow[];
}

/** What one channel is delayed by, so that all arrive together. */
export interface DelayRow {
  channelId: string;
  name: string;
  isBass: boolean;
  /** left out where it was not measured yet */
  distanceMetre?: number;
  /** to the passenger's head, where a compromise is wanted */
  passengerMetre?: number;
  /** for a compromise: by so much it is off at either head */
  offAtSeatsSecond?: number;
  /** from the source's line to the microphone, by a recorded sweep */
  arrivalSecond?: number;
  /** delays so that all arrive with the last, each way of measuring on its own */
  byTapeSecond?: number;
  bySweepSecond?: number;
  /** by its distance or its sweep, and what was found at a crossover on top */
  wantedSecond?: number;
  /** on the processor's step, and no longer than it can */
  setSecond?: number;
  /** what rounding and the longest delay leave over, in seconds; above 0 it still comes too early */
  leftSecond?: number;
  /** it does not run through the processor, which delays nothing of it */
  isBypassed?: true;
}

export interface DelayFigures {
  rows: DelayRow[];
  speedOfSound: number;
  from: 'tape' | 'sweep';
}

/** Steps that processors have: a sample at 48 kHz where nothing is said. */
export const USUAL_DELAY_STEP_SECOND = 1 / 48_000;
/** Less than this is heard by nobody. Common practice, no source */
const NOTABLE_LEFT_SECOND = 0.000_05;

const CHECK = { id: 'entered', words: 'delays entered in the processor' };
const ZEROED = { id: 'zeroed', words: 'all delays were at 0 while the sweeps were recorded' };
/** A tape and a sweep that are further apart measured different things. Common practice, no source: 10 cm */
const APART_SECOND = 0.0003;

const DELAYS_ID = stepId('delay', 'all');
/** Told with the conditions; the sweep runs through all. */
const ARRIVAL_TONE_HZ = 1000;

/** Every channel arrives at the listener together with the farthest one: by tape measure, or by recorded sweeps. */
export const delay = defineKind({
  kind: 'delay',
  stage: 'phase',
  title: 'Delays',
  help: 'distances to the listening place, and the delay of each channel in the processor',
  plays: 'air',
  isOptional: true,
  intakes: [{ type: 'capture', at: 'air', judged: 'sweep' }],
  dependsOn: [],
  subjects: (now): DelaySubject[] => {
    const { processor, channels } = now.chain;
    return processor === undefined || channels.length < 2 ? [] : [{ processor, channels: channelsNow(now) }];
  },
  keyOf: () => 'all',
  words: ({ processor }) => ({ subject: 'all channels', where: processor.name, rail: 'Delays' }),
  channelsOf: ({ channels }) => channels,
  checks: (_step, now) => ({ items: checksOf(now), basis: delayBasis(delayRows(now)) }),
  conditions: (_step, now) => arrivalConditions(now, delayRows(now).find(({ arrivalSecond }) => arrivalSecond === undefined)?.channelId),
  caution: () =>
    'A sweep runs through every tone: begin softly, protect your ears, and never through a tweeter without its filter. The equipment’s manual, local codes and licensed practice come first.',
  standsOn: ['polarity'],
  judge: judgeDelay,
});

/** The delays of all channels, as they follow from the distances. */
export const delayRows = once((now: Situation): DelayRow[] => {
  const {
    distancesMetre = {},
    passengerMetre = {},
    seat,
    trimSecond = {},
    temperatureCelsius,
    stepSecond = USUAL_DELAY_STEP_SECOND,
    longestSecond,
  }: Listening = now.chain.listening ?? {};
  const channels = channelsNow(now).map(({ channel }) => channel);
  const known = Object.fromEntries(channels.flatMap(({ id }) => (distancesMetre[id] === undefined ? [] : [[id, distancesMetre[id]]])));
  const air = temperatureCelsius === undefined ? {} : { temperatureCelsius };
  const forSeat = (metres: Record<string, number>): Record<string, number> =>
    Object.keys(metres).length === 0 ? {} : delays({ distancesMetre: metres, ...air }).delaysSecond;
  const passenger = Object.fromEntries(channels.flatMap(({ id }) => (passengerMetre[id] === undefined ? [] : [[id, passengerMetre[id]]])));
  const [driverWants, passengerWants] = [forSeat(known), forSeat(passenger)];
  // Between two heads: each is as far off as the other.
  const byTape =
    seat === 'both'
      ? Object.fromEntries(
          Object.entries(driverWants).flatMap(([id, second]) =>
            passengerWants[id] === undefined ? [] : [[id, (second + passengerWants[id]) / 2]],
          ),
        )
      : driverWants;
  const arrivals = arrivalsNow(now);
  const last = Math.max(...channels.flatMap(({ id }) => arrivals.get(id) ?? []));
  const bySweep = Object.fromEntries(channels.flatMap(({ id }) => (arrivals.has(id) ? [[id, last - arrivals.get(id)!]] : [])));
  const base = delaysFrom(now) === 'sweep' ? bySweep : byTape;
  // What was found at a crossover is counted on top, with a tape measure or without.
  const isTrimmed = channels.some(({ id }) => (trimSecond[id] ?? 0) !== 0);
  const sums = channels.flatMap(({ id }) => {
    const own = base[id] ?? (isTrimmed && Object.keys(base).length === 0 ? 0 : undefined);
    return own === undefined ? [] : [[id, own + (trimSecond[id] ?? 0)] as const];
  });
  const least = Math.min(...sums.map(([, second]) => second));
  const wanted: Record<string, number> = Object.fromEntries(sums.map(([id, second]) => [id, second - least]));
  // Where somebody said what hangs on the processor, the rest does not.
  const fed = new Set(channels.flatMap(({ id, processorOutputId }) => (processorOutputId === undefined ? [] : [id])));
  const isBypassed = (id: string): boolean => now.chain.processor !== undefined && fed.size > 0 && !fed.has(id);
  return channels.map(({ id, name, band }): DelayRow => {
    const wantedSecond = wanted[id];
    const row = {
      channelId: id,
      name,
      isBass: band === 'bass',
      ...(isBypassed(id) ? { isBypassed: true as const } : {}),
      ...(known[id] === undefined ? {} : { distanceMetre: known[id] }),
      ...(passenger[id] === undefined ? {} : { passengerMetre: passenger[id] }),
      ...(byTape[id] === undefined ? {} : { byTapeSecond: byTape[id] }),
      ...(seat === 'both' && byTape[id] !== undefined ? { offAtSeatsSecond: Math.abs(driverWants[id]! - passengerWants[id]!) / 2 } : {}),
      ...(arrivals.has(id) ? { arrivalSecond: arrivals.get(id)!, bySweepSecond: bySweep[id]! } : {}),
    };
    if (wantedSecond === undefined) return row;
    const most = isBypassed(id) ? 0 : longestSecond === undefined ? Infinity : Math.floor(longestSecond / stepSecond + 1e-9) * stepSecond;
    const setSecond = Math.min(most, Math.round(wantedSecond / stepSecond) * stepSecond);
    return {
      ...row,
      wantedSecond,
      setSecond,
      leftSecond: wantedSecond - setSecond,
    };
  });
});

/** When each channel's sweep reached the microphone after it left the source, by its newest recording with the source's line beside it. */
const arrivalsNow = once((now: Situation): Map<string, number> => {
  const found = new Map<string, number>();
  for (const { conditions, analysis } of tracesAt(now, DELAYS_ID, 'air')) {
    const [microphone, line] = analysis.channels.map(({ response }) => response);
    const { channelId, position, channelFilters } = conditions;
    // Heard at another seat it says nothing of this one; nor does one through other filters, which have another delay of their own.
    if (channelFilters !== undefined && channelFilters !== filtersText(now, channelId)) continue;
    if (position === microphoneAt(now) && channelId !== undefined && microphone?.kind === 'response' && line?.kind === 'response')
      found.set(channelId, microphone.arrivalSecond - line.arrivalSecond);
  }
  return found;
});

const microphoneAt = ({ chain: { listening } }: Situation): string =>
  listening?.seat === 'middle' ? 'middle, between the heads' : 'driver’s head';

/** By what the delays are told: as the tuner chose, else by whichever was measured. */
export function delaysFrom(now: Situation): 'tape' | 'sweep' {
  const { distancesMetre = {}, delaysFrom: chosen, seat } = now.chain.listening ?? {};
  // A microphone stands at one head: a compromise of two is a matter of the tape.
  if (seat === 'both') return 'tape';
  return chosen ?? (Object.keys(distancesMetre).length === 0 && arrivalsNow(now).size > 0 ? 'sweep' : 'tape');
}

/** Under which one channel's sweep is recorded: by the microphone, and the source's line on the second channel. */
export const arrivalConditions = (now: Situation, channelId: string | undefined): AirConditions => ({
  ...airConditions(now, ARRIVAL_TONE_HZ),
  position: microphoneAt(now),
  ...(channelId === undefined ? {} : { channelId, channelFilters: filtersText(now, channelId) }),
  sweep: { ...LONG_SWEEP, labels: ['Microphone', 'Source line'] },
});

const filtersText = ({ chain }: Situation, channelId: string | undefined): string =>
  settingKey(chain.channels.find(({ id }) => id === channelId) ?? {});

const checksOf = (now: Situation): Check[] => (delaysFrom(now) === 'sweep' ? [ZEROED, CHECK] : [CHECK]);

/** What the tick stands for: these delays, in microseconds. */
const delayBasis = (rows: readonly DelayRow[]): Basis =>
  basisOf(
    { delays: rows.map(({ channelId, setSecond }) => [channelId, setSecond === undefined ? null : Math.round(setSecond * 1e6)]) },
    rows.flatMap(({ name, setSecond }) => (setSecond === undefined ? [] : [`${name} ${fixed(setSecond * 1000, 2)} ms`])).join(', '),
  );

function judgeDelay(step: Step<'delay', DelaySubject>, now: Situation): Judgement<DelayFigures> {
  const rows = delayRows(now);
  const from = delaysFrom(now);
  const figures: DelayFigures = { rows, speedOfSound: delays({ distancesMetre: { a: 0 }, ...temperatureOf(now) }).speedOfSound, from };
  const lone = loneFinding(now);
  const missing = rows.filter((row) => (from === 'tape' ? row.byTapeSecond : row.arrivalSecond) === undefined);
  if (missing.length > 0) {
    const finding: Finding = {
      code: 'distance-missing',
      grade: 'note',
      figures: { missing: missing.length, from, channelNames: missing.map(({ name }) => name) },
    };
    return {
      status: 'open',
      figures,
      findings: [...lone, finding],
      action: { kind: 'describe', what: from === 'tape' ? 'distances' : 'arrivals' },
    };
  }
  const findings = [...lone, ...seatFindings(rows), ...apartFindings(rows), ...lateFindings(rows), ...bassFindings(rows)];
  const basis = delayBasis(rows);
  const mark = markAt(now, step.id);
  const checks = checksOf(now).map(({ id }) => id);
  const action = { kind: 'tick', checks, basis: basis.key, basisWords: basis.words } as const;
  if (!checks.every((id) => mark?.checks.includes(id) === true)) return { status: 'open', figures, findings, action };
  if (mark?.basis !== basis.key) {
    const stale: Finding = {
      code: 'delays-stale',
      grade: 'stale',
      figures: { ...(mark?.basisWords === undefined ? {} : { entered: mark.basisWords }), wanted: basis.words },
    };
    return { status: 'stale', figures, findings: [stale, ...findings], action };
  }
  const isOff = findings.some(({ grade }) => grade === 'attention');
  const done: Finding = {
    code: 'delays-entered',
    grade: 'good',
    figures: { from },
  };
  return isOff ? { status: 'out-of-tolerance', figures, findings, action } : { status: 'done', figures, findings: [done, ...findings] };
}

const temperatureOf = ({ chain: { listening } }: Situation): { temperatureCelsius?: number } =>
  listening?.temperatureCelsius === undefined ? {} : { temperatureCelsius: listening.temperatureCelsius };

/** A recording without the source's line beside the microphone has no beginning to count from. */
function loneFinding(now: Situation): Finding[] {
  const last = tracesAt(now, DELAYS_ID, 'air').at(-1);
  if (last === undefined) return [];
  const [microphone, line] = last.analysis.channels;
  if (microphone?.response?.kind === 'response' && line?.response?.kind === 'response') return [];
  const reason = [microphone, line].find((channel) => channel?.response?.kind === 'no-sweep')?.response;
  return [
    {
      code: 'arrival-unknown',
      grade: 'attention',
      figures: {
        channels: last.analysis.channels.length,
        fileName: last.fileName,
        ...(reason?.kind === 'no-sweep' ? { reason: reason.reason } : {}),
      },
    },
  ];
}

/** The same ways by tape and by sweep, each against the channel that both agree comes last. */
function apartFindings(rows: readonly DelayRow[]): Finding[] {
  const both = rows.filter(
    ({ byTapeSecond, bySweepSecond, isBass }) => byTapeSecond !== undefined && bySweepSecond !== undefined && !isBass,
  );
  // Only differences count: the mean of both ways is laid on each other.
  const mean = both.reduce((sum, row) => sum + row.bySweepSecond! - row.byTapeSecond!, 0) / Math.max(1, both.length);
  return both.flatMap(({ name, byTapeSecond, bySweepSecond }) => {
    const apartSecond = bySweepSecond! - byTapeSecond! - mean;
    return Math.abs(apartSecond) <= APART_SECOND
      ? []
      : [
          {
            code: 'tape-and-sweep-apart',
            grade: 'attention' as const,
            figures: { apartSecond, channelName: name },
          },
        ];
  });
}

/** What a compromise costs, told by the channel that pays the most. */
function seatFindings(rows: readonly DelayRow[]): Finding[] {
  const most = rows.reduce<DelayRow | undefined>((a, b) => ((b.offAtSeatsSecond ?? 0) > (a?.offAtSeatsSecond ?? 0) ? b : a), undefined);
  const offSecond = most?.offAtSeatsSecond ?? 0;
  if (most === undefined || offSecond < NOTABLE_LEFT_SECOND) return [];
  return [
    {
      code: 'seats-compromise',
      grade: 'note',
      figures: { offSecond, channelName: most.name },
    },
  ];
}

function lateFindings(rows: readonly DelayRow[]): Finding[] {
  return rows
    .filter(({ leftSecond = 0 }) => Math.abs(leftSecond) > NOTABLE_LEFT_SECOND)
    .map(({ name, leftSecond = 0, wantedSecond = 0, isBypassed }): Finding =>
      isBypassed === true
        ? { code: 'delay-bypassed', grade: 'attention', figures: { wantedSecond, channelName: name } }
        : { code: 'delay-too-long', grade: 'attention', figures: { leftSecond, wantedSecond, channelName: name } },
    );
}

function bassFindings(rows: readonly DelayRow[]): Finding[] {
  const bass = rows.filter(({ isBass, setSecond }) => isBass && setSecond !== undefined);
  return bass.length === 0
    ? []
    : [
        {
          code: 'bass-by-phase',
          grade: 'note',
          figures: { channelNames: bass.map(({ name }) => name) },
        },
      ];
}
