import { voltageFactor, voltageRatioDb } from '../../levels/decibels.ts';
import { lastResult } from '../../numerics/lastResult.ts';
import { targetVoltage, type TargetVoltage } from '../../gain/targetVoltage.ts';
import type { Filter } from '../../crossovers/filters.ts';
import type { Hookup } from '../../loads/hookup.ts';
import { plannedLoadOhm } from '../../job/plannedLoad.ts';
import { hookupOf } from '../../loads/planLoads.ts';
import type { Amplifier, Channel, HouseRules } from '../../job/chain.ts';
import { equaliserBoostDb } from '../../job/channelEqualiser.ts';
import { amplifierOf, targetPower, type TargetPower } from '../../job/targetPower.ts';
import { pairsOf } from '../../job/pairs.ts';
import { belowPeakDb, filterLoss, type FilterLoss } from '../../ways/filterLoss.ts';
import { channelProofs, provedBy, type FilterProof } from '../../ways/filterProof.ts';
import type { ProvedFilters } from '../../ways/driverGroups.ts';
import { cleanSeenVolt, loadAtGain, onsetMarginDb, onsetNow, sagNow, unloadedLimit, type Onset, type UnloadedLimit } from './onset.ts';
import { unevenAt } from './bandEven.ts';
import { bandLimit, bandLooks, wayChangedAt, type BandLimit } from './bandLooks.ts';
import { shapeBefore } from './sourceSweeps.ts';
import { once, onceEach, readingsAt, stepId, tracesAt, type Situation } from './situation.ts';

/** One channel on its amplifier, and what it is to be set to. */
export interface ChannelNow {
  channel: Channel;
  amplifier: Amplifier;
  /** the tone that sets it */
  toneHz: number;
  /** its recorded level */
  toneLevelDbfs: number;
  hookup: Hookup;
  /** the load that powers and target are reckoned with: nominal, or by the house's rule what was measured of it */
  plannedOhm: number;
  power: TargetPower;
  /** what the filters before the terminals take off the tone; counted into the target */
  loss: FilterLoss;
  /** what the load takes off, counted into a target that is set without it; 0 where it is not known or too little */
  sagDb: number;
  /** where it begins to clip under its load, once that was seen */
  onset?: Onset;
  /** by scope: clean as high as its drivers bear, and nothing flat was seen */
  isCleanToDrivers?: boolean;
  /** what it gave at most without load, where that was seen: a target that is set without load lies below */
  unloaded?: UnloadedLimit;
  /** how far its gain may be up because of one tone of its range, or of its pair's, where one was flat */
  band?: BandLimit;
  /** how far what was seen of it, or of its pair, takes the target below what plates and captures of its own tone allow, in dB; 0 or below */
  limitDb: number;
  /** undefined where the power is unknown */
  target?: TargetVoltage;
}

/** Every channel whose amplifier is in the chain, in the order of the chain. */
export const channelsNow = once((now: Situation): ChannelNow[] => {
  const own = now.chain.channels.flatMap((channel) => {
    const amplifier = amplifierOf(now.chain, channel);
    return amplifier === undefined ? [] : [channelNow(now, channel, amplifier)];
  });
  return own.map((each) => besideItsPair(each, own, now));
});

/** Less than this two sides differ by what their plates say. */
const SAME_PLATES_DB = 0.05;

/** Two sides that are meant alike are set alike: what one of them cannot do clean, wherever that was seen, lowers the other. */
function besideItsPair(of: ChannelNow, all: readonly ChannelNow[], now: Situation): ChannelNow {
  const alike = alikeNow(now, of.channel);
  const pair = all.find(({ channel }) => channel.id === alike?.channel.id);
  if (of.target === undefined || pair?.target === undefined) return of;
  const byPlates = ({ target, limitDb, loss, sagDb, toneLevelDbfs }: ChannelNow): number =>
    20 * Math.log10(target!.settingVoltage) - limitDb - belowPeakDb(loss) - sagDb - toneLevelDbfs;
  const lowerDb = pair.limitDb - of.limitDb;
  if (lowerDb >= 0 || Math.abs(byPlates(of) - byPlates(pair)) > SAME_PLATES_DB) return of;
  return { ...of, limitDb: pair.limitDb, target: { ...of.target, settingVoltage: of.target.settingVoltage * voltageFactor(lowerDb) } };
}

const keptProofs = lastResult<FilterProof[]>();

/** When something that shapes a channel's tones was last seen to be switched: what its filters were proved with before is of another way. */
export function wayChangedNow(now: Situation, channel: Channel): string | undefined {
  const amplifier = amplifierOf(now.chain, channel);
  return amplifier === undefined ? undefined : wayChangedAt(bandLooks(now, channel, amplifier));
}

/** The proof of every filter of a channel that anything was measured of, or that wants it. */
export const proofsOf = onceEach(
  (channel: Channel) => channel.id,
  (now, channel): FilterProof[] => {
    const { meter } = now.settings;
    const changedAt = wayChangedNow(now, channel);
    const isSince = ({ takenAt }: { takenAt: string }): boolean => changedAt === undefined || takenAt >= changedAt;
    const measured = new Map(
      (channel.filters ?? []).map(({ id: filterId }) => {
        const id = stepId('crossover', filterId);
        const readings = readingsAt(now, id, 'filter-voltage', 'load').filter(isSince);
        return [filterId, { readings, traces: tracesAt(now, id, 'line').filter(isSince) }] as const;
      }),
    );
    const parts = [...measured.values()].flatMap(({ readings, traces }) => [...readings, '|', ...traces, '|']);
    const shapeDb = shapeBefore(now, channel);
    return keptProofs(channel, '', [meter, shapeDb, ...parts], () =>
      channelProofs(channel, meter, (filterId) => measured.get(filterId)!, shapeDb),
    );
  },
);

/** What measuring found of every filter of the chain. */
export const provedNow = once((now: Situation): ProvedFilters =>
  provedBy(now.chain.channels.filter(({ filters = [] }) => filters.length > 0).flatMap((channel) => proofsOf(now, channel))),
);

const keptLoss = lastResult<FilterLoss>();

const canonicalFilter = ({ family, order, cornerHz }: Filter): string => `${family}/${order}/${cornerHz}`;

function channelNow(now: Situation, channel: Channel, amplifier: Amplifier): ChannelNow {
  const { rules } = now.settings;
  const toneHz = channel.toneHz ?? (channel.band === 'bass' ? rules.bassToneHz : rules.otherToneHz);
  // The source's own amplifier has no gain to turn down for what a softer tone does not show.
  const toneLevelDbfs = channel.toneLevelDbfs ?? (amplifier.isInSource === true ? 0 : rules.toneLevelDbfs);
  const onset = onsetNow(now, channel, amplifier);
  const plannedOhm = plannedLoadOhm(channel, toneHz, rules);
  const powerOf = (onsetWatt: number | undefined): TargetPower =>
    targetPower(amplifier, channel, {
      toneHz,
      loadOhm: plannedOhm,
      supplyVolt: supplyVoltNow(now, amplifier),
      onsetWatt,
      isByOnset: rules.gainBy === 'scope',
    });
  const onsetWatt = onsetWattNow(now, channel, onset, plannedOhm);
  const byPlates = powerOf(onsetWatt);
  // By scope an output that was clean as high as its drivers bear need not be driven further: it makes at least that.
  const cleanWatt = rules.gainBy === 'scope' && onset === undefined ? cleanSeenVolt(now, channel, amplifier) ** 2 / plannedOhm : 0;
  const isCleanToDrivers = byPlates.kind === 'known' && cleanWatt > CLEAN_TO * byPlates.driversWatt;
  const power = isCleanToDrivers ? powerOf(Math.min(cleanWatt, onsetWatt ?? Infinity)) : byPlates;
  const sagDb = loadAtGain(rules) === 'off' ? sagNow(now, channel, amplifier) : 0;
  const unloaded = loadAtGain(rules) === 'off' ? unloadedLimit(now, channel, amplifier) : undefined;
  const proved = provedNow(now);
  const band = bandLimit(now, channel, amplifier, (look) => {
    const uneven = unevenAt(now, channel, look, proved);
    return uneven !== undefined && uneven.byDb > 0 && !uneven.isMeant;
  });
  const found = (channel.filters ?? []).map(({ id }) => proved.get(id)).map((filter) => filter && canonicalFilter(filter));
  const loss = keptLoss(channel, String(toneHz), found, () => filterLoss(channel, toneHz, proved));
  const limitVolt = Math.min(unloaded?.volt ?? Infinity, (band?.gainVolt ?? Infinity) * voltageFactor(toneLevelDbfs + loss.db));
  const wanted =
    power.kind === 'unknown'
      ? undefined
      : channelTarget(power.powerWatt, { ...channel, loadOhm: plannedOhm }, toneLevelDbfs, rules, belowPeakDb(loss) + sagDb);
  return {
    channel,
    amplifier,
    toneHz,
    toneLevelDbfs,
    hookup: hookupOf({ ...amplifier, mode: channel.mode }, channel.loadOhm),
    plannedOhm,
    power,
    loss,
    ...(onset === undefined ? {} : { onset }),
    ...(isCleanToDrivers ? { isCleanToDrivers } : {}),
    sagDb,
    limitDb: wanted === undefined ? 0 : Math.min(0, voltageRatioDb(limitVolt, wanted.settingVoltage)),
    ...(wanted === undefined ? {} : { target: { ...wanted, settingVoltage: Math.min(limitVolt, wanted.settingVoltage) } }),
    ...(unloaded === undefined ? {} : { unloaded }),
    ...(band === undefined ? {} : { band }),
  };
}

/** A rating is a rounded figure: clean to this share of it is clean to it. Common practice, no source. */
const CLEAN_TO = 0.95;

const pairsNow = once((now: Situation) => pairsOf(now.chain));

/** The channel on the other side, with its amplifier, where both are to play alike. */
function alikeNow(now: Situation, channel: Channel): { channel: Channel; amplifier: Amplifier } | undefined {
  const pair = pairsNow(now).get(channel.id);
  const amplifier = pair === undefined ? undefined : amplifierOf(now.chain, pair);
  if (pair === undefined || amplifier === undefined) return undefined;
  return pair.differsFromPair === true || channel.differsFromPair === true ? undefined : { channel: pair, amplifier };
}

/** What a channel makes just below its first flattening, and no more than its pair does: the two play alike, or it is said that they do not. */
function onsetWattNow(now: Situation, channel: Channel, own: Onset | undefined, plannedOhm: number): number | undefined {
  const watt = (onset: Onset): number => (onset.volt * voltageFactor(-onsetMarginDb(now.settings.rules))) ** 2 / plannedOhm;
  const pair = alikeNow(now, channel);
  const theirs = pair === undefined ? undefined : onsetNow(now, pair.channel, pair.amplifier);
  const watts = [...(own === undefined ? [] : [watt(own)]), ...(theirs === undefined ? [] : [watt(theirs)])];
  return watts.length === 0 ? undefined : Math.min(...watts);
}

/**
 * The figure that the meter should read with this tone: where a filter takes something off it, that much less, and where the channel
 * is set down against the others on purpose, that much less again. Without load it lies above that by what the load will take.
 *
 * @param shiftDb - filters and sag together
 */
function channelTarget(powerWatt: number, channel: Channel, toneLevelDbfs: number, rules: HouseRules, shiftDb: number): TargetVoltage {
  const { loadOhm, overlapDb = rules.overlapDb, headroomDb = rules.headroomDb, blendDb = 0 } = channel;
  // What a band lifts, music reaches at that frequency: everything else lies that much lower.
  const boostDb = equaliserBoostDb(channel);
  const inPassband = targetVoltage({ powerWatt, loadOhm, toneLevelDbfs, overlapDb, headroomDb: headroomDb + blendDb + boostDb });
  const settingVoltage = inPassband.settingVoltage * voltageFactor(shiftDb);
  return { ...inPassband, settingVoltage, powerAtSettingWatt: settingVoltage ** 2 / loadOhm };
}

/** The lowest supply that was read at an amplifier's terminals while a tone played, each channel by its newest reading. */
const supplyVoltNow = onceEach(
  (amplifier: Amplifier) => amplifier.id,
  (now, amplifier): number | undefined => {
    const volts = now.chain.channels
      .filter(({ amplifierId }) => amplifierId === amplifier.id)
      .flatMap(({ id }) => readingsAt(now, stepId('proof', id), 'supply-loaded', 'load').slice(-1))
      .filter(({ value, conditions }) => value > 0 && conditions.amplifierId === amplifier.id)
      .map(({ value }) => value);
    return volts.length === 0 ? undefined : Math.min(...volts);
  },
);
