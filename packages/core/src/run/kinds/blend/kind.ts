import type { Finding } from '../../../findings.ts';
import { basisOf } from '../../../job/basis.ts';
import type { Channel, CurvePoint } from '../../../job/chain.ts';
import { settingKey } from '../../../job/channelEqualiser.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import { pairsOf } from '../../../job/pairs.ts';
import { octavePoints, pointsLevelDb } from '../../../response/curve.ts';
import { channelsNow, type ChannelNow } from '../../frame/channels.ts';
import { volumeCheck } from '../../frame/channelSteps.ts';
import { airConditions } from '../../frame/played.ts';
import { staleFinding, type Judgement } from '../../frame/judgement.ts';
import { readingsAt, type Situation } from '../../frame/situation.ts';
import { staleReasons, type ConditionKey } from '../../frame/staleness.ts';
import { defineKind, type Step } from '../../frame/stepKind.ts';
import { rangeOf } from '../response/curves.ts';

export interface BlendSubject {
  channels: ChannelNow[];
}

/** One channel by its level with pink noise. */
export interface BlendRow {
  channelId: string;
  name: string;
  fromHz: number;
  toHz: number;
  /** as the sound meter showed it, through what is set now */
  shownDb?: number;
  /** by octave of its range, less what the house's curve wants of that range: equal for all where the ways are level */
  levelDb?: number;
  /** against the quietest one */
  aboveDb?: number;
  isStale?: true;
}

export interface BlendFigures {
  rows: BlendRow[];
}

const PINK = 'pink-level';
/** Told with the conditions; the noise has every tone in it. */
const NOISE_TONE_HZ = 1000;
const STANDS_ON: readonly ConditionKey[] = ['source', 'volume', 'input', 'settings'];
/** Left and right further apart than this are heard apart. Common practice, no source. */
const PAIR_APART_DB = 1.5;
/** Between ways the ear and the house decide; from here on it is told. Common practice, no source. */
const WAYS_APART_DB = 3;

/**
 * Levels of the ways against each other by pink noise, a check of what the gains and the levels set down were meant to give.
 *
 * Pink noise has the same power in every octave: a channel that plays three of them is by 10 lg 3 louder than one that plays one.
 */
export const blend = defineKind({
  kind: 'blend',
  stage: 'response',
  title: 'Channel balance',
  help: 'pink noise through each channel alone, read with a sound meter: the balance between ways and sides',
  plays: 'air',
  isOptional: true,
  intakes: [{ type: 'reading', kind: PINK, unit: 'dB', at: 'air', words: 'pink noise' }],
  dependsOn: STANDS_ON,
  subjects: (now): BlendSubject[] => {
    const channels = channelsNow(now);
    return channels.length < 2 ? [] : [{ channels }];
  },
  keyOf: () => 'all',
  words: () => ({ subject: 'all channels', where: 'at the listener’s head', rail: 'Channel balance' }),
  channelsOf: ({ channels }) => channels,
  checks: (_step, now) => ({
    items: [volumeCheck(now.chain.source, true), { id: 'slow', words: 'sound meter on slow, C or no weighting, and not moved' }],
    basis: basisOf({ volume: now.chain.source.workingVolume }, `volume ${now.chain.source.workingVolume}`),
  }),
  conditions: (step, now) => blendConditions(nextByNoise(step, now) ?? step.channels[0]!, now),
  caution: () =>
    'Noise through every channel: begin softly, protect your ears, and never through a tweeter without its filter. Mute the other channels in the processor, never by pulling wires while something plays. The equipment’s manual, local codes and licensed practice come first.',
  judge: judgeBlend,
});

const playedSetting = (channel: Channel): string => `${settingKey(channel)}; ${channel.blendDb ?? 0} dB down`;

export const blendConditions = ({ channel }: ChannelNow, now: Situation): AirConditions => ({
  ...airConditions(now, NOISE_TONE_HZ),
  channelId: channel.id,
  channelFilters: playedSetting(channel),
});

/** The channel that is to be read next; undefined where all are read. */
export const nextByNoise = (step: Step<'blend', BlendSubject>, now: Situation): ChannelNow | undefined =>
  step.channels.find((each) => shownOf(step.id, each, now)?.isStale !== false);

function shownOf(id: string, each: ChannelNow, now: Situation): { db: number; isStale: boolean } | undefined {
  const last = readingsAt(now, id, PINK, 'air').findLast(({ conditions }) => conditions.channelId === each.channel.id);
  if (last === undefined) return undefined;
  const isStale =
    staleReasons(STANDS_ON, last.conditions, blendConditions(each, now)).length > 0 ||
    last.conditions.channelFilters !== playedSetting(each.channel);
  return { db: last.value, isStale };
}

function judgeBlend(step: Step<'blend', BlendSubject>, now: Situation): Judgement<BlendFigures> {
  const house = now.settings.houseCurve ?? [];
  const read = step.channels.map((each) => rowOf(step.id, each, now, house));
  const quietest = Math.min(...read.flatMap(({ levelDb }) => levelDb ?? []));
  const rows = read.map((row) => (row.levelDb === undefined ? row : { ...row, aboveDb: row.levelDb - quietest }));
  const figures = { rows };
  const action = { kind: 'read', reading: PINK, unit: 'dB' } as const;
  const pairs = pairFindings(rows, now);
  if (rows.some(({ levelDb }) => levelDb === undefined)) {
    const stale = rows.filter(({ isStale }) => isStale === true);
    if (stale.length === 0) return { status: 'open', figures, findings: pairs, action };
    const reasons = [`filters, levels or volume of ${stale.map(({ name }) => name).join(', ')} were changed since`];
    return { status: 'stale', figures, findings: [...pairs, staleFinding('Its level', reasons, 'Read it again.')], action };
  }
  if (pairs.length > 0) return { status: 'out-of-tolerance', figures, findings: pairs, action };
  return { status: 'done', figures, findings: waysFindings(rows, house.length > 0) };
}

function rowOf(id: string, each: ChannelNow, now: Situation, house: readonly CurvePoint[]): BlendRow {
  const { channel } = each;
  const range = rangeOf(channel);
  const row = { channelId: channel.id, name: channel.name, ...range };
  const shown = shownOf(id, each, now);
  if (shown === undefined) return row;
  if (shown.isStale) return { ...row, isStale: true };
  const octaves = Math.log2(range.toHz / range.fromHz);
  return { ...row, shownDb: shown.db, levelDb: shown.db - 10 * Math.log10(Math.max(1 / 3, octaves)) - wantedDb(house, range) };
}

/** What a curve wants of a range: the mean of its power over it. */
function wantedDb(points: readonly CurvePoint[], { fromHz, toHz }: { fromHz: number; toHz: number }): number {
  if (points.length === 0) return 0;
  const at = octavePoints(fromHz, toHz, 6);
  return 10 * Math.log10(at.reduce((sum, hertz) => sum + 10 ** (pointsLevelDb(points, hertz) / 10), 0) / at.length);
}

function pairFindings(rows: readonly BlendRow[], now: Situation): Finding[] {
  const pairs = pairsOf(now.chain);
  return rows.flatMap((row, k): Finding[] => {
    const channel = now.chain.channels.find(({ id }) => id === row.channelId);
    const pair = pairs.get(row.channelId);
    const theirs = rows.findIndex(({ channelId }) => channelId === pair?.id);
    const isMeant = channel?.differsFromPair === true || pair?.differsFromPair === true;
    if (theirs <= k || isMeant) return [];
    const [one, other] = [row.levelDb, rows[theirs]!.levelDb];
    if (one === undefined || other === undefined || Math.abs(one - other) <= PAIR_APART_DB) return [];
    const [louder, quieter] = one > other ? [row, rows[theirs]!] : [rows[theirs]!, row];
    const apartDb = Math.abs(one - other);
    return [
      {
        code: 'sides-apart',
        grade: 'attention',
        figures: { louder: louder.channelId, apartDb, louderName: louder.name, quieterName: quieter.name },
      },
    ];
  });
}

function waysFindings(rows: readonly BlendRow[], hasCurve: boolean): Finding[] {
  const [first, ...rest] = [...rows].sort((a, b) => b.aboveDb! - a.aboveDb!);
  const apartDb = first!.aboveDb!;
  if (apartDb <= WAYS_APART_DB)
    return [
      {
        code: 'ways-level',
        grade: 'good',
        figures: { apartDb, hasCurve },
      },
    ];
  return [
    {
      code: 'ways-apart',
      grade: 'note',
      figures: { louder: first!.channelId, apartDb, louderName: first!.name, quieterName: rest.at(-1)!.name, hasCurve },
    },
  ];
}
