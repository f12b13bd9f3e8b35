import { voltageFactor } from '../../levels/decibels.ts';
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
import { filterLoss, type FilterLoss } from '../../ways/filterLoss.ts';
import { channelProofs, provedBy, type FilterProof } from '../../ways/filterProof.ts';
import type { ProvedFilters } from '../../ways/driverGroups.ts';
import { loadAtGain, onsetMarginDb, onsetNow, sagNow, unloadedLimit, type Onset, type UnloadedLimit } from './onset.ts';
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
  /** what it gave at most without load, where that was seen: a target that is set without load lies below */
  unloaded?: UnloadedLimit;
  /** undefined where the power is unknown */
  target?: TargetVoltage;
}

/** Every channel whose amplifier is in the chain, in the order of the chain. */
export const channelsNow = once((now: Situation): ChannelNow[] =>
  now.chain.channels.flatMap((channel) => {
    const amplifier = amplifierOf(now.chain, channel);
    return amplifier === undefined ? [] : [channelNow(now, channel, amplifier)];
  }),
);

const keptProofs = lastResult<FilterProof[]>();

/** The proof of every filter of a channel that anything was measured of, or that wants it. */
export const proofsOf = onceEach(
  (channel: Channel) => channel.id,
  (now, channel): FilterProof[] => {
    const { meter } = now.settings;
    const measured = new Map(
      (channel.filters ?? []).map(({ id: filterId }) => {
        const id = stepId('crossover', filterId);
        return [filterId, { readings: readingsAt(now, id, 'filter-voltage', 'load'), traces: tracesAt(now, id, 'line') }] as const;
      }),
    );
    const parts = [...measured.values()].flatMap(({ readings, traces }) => [...readings, '|', ...traces, '|']);
    return keptProofs(channel, '', [meter, ...parts], () => channelProofs(channel, meter, (filterId) => measured.get(filterId)!));
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
  const toneLevelDbfs = channel.toneLevelDbfs ?? rules.toneLevelDbfs;
  const onset = onsetNow(now, channel, amplifier);
  const plannedOhm = plannedLoadOhm(channel, toneHz, rules);
  const power = targetPower(amplifier, channel, {
    toneHz,
    loadOhm: plannedOhm,
    supplyVolt: supplyVoltNow(now, amplifier),
    onsetWatt: onsetWattNow(now, channel, amplifier, onset, plannedOhm),
    isByOnset: rules.gainBy === 'scope',
  });
  const sagDb = loadAtGain(rules) === 'off' ? sagNow(now, channel, amplifier) : 0;
  const unloaded = loadAtGain(rules) === 'off' ? unloadedLimit(now, channel, amplifier) : undefined;
  const proved = provedNow(now);
  const found = (channel.filters ?? []).map(({ id }) => proved.get(id)).map((filter) => filter && canonicalFilter(filter));
  const loss = keptLoss(channel, String(toneHz), found, () => filterLoss(channel, toneHz, proved));
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
    sagDb,
    ...(power.kind === 'unknown'
      ? {}
      : {
          target: noMoreThan(
            unloaded,
            channelTarget(power.powerWatt, { ...channel, loadOhm: plannedOhm }, toneLevelDbfs, rules, loss.db + sagDb),
          ),
        }),
    ...(unloaded === undefined ? {} : { unloaded }),
  };
}

const noMoreThan = (limit: UnloadedLimit | undefined, target: TargetVoltage): TargetVoltage =>
  limit === undefined || limit.volt >= target.settingVoltage ? target : { ...target, settingVoltage: limit.volt };

const pairsNow = once((now: Situation) => pairsOf(now.chain));

/** What a channel makes just below its first flattening, and no more than its pair does: the two play alike, or it is said that they do not. */
function onsetWattNow(
  now: Situation,
  channel: Channel,
  amplifier: Amplifier,
  own: Onset | undefined,
  plannedOhm: number,
): number | undefined {
  const watt = (onset: Onset): number => (onset.volt * voltageFactor(-onsetMarginDb(now.settings.rules))) ** 2 / plannedOhm;
  const pair = pairsNow(now).get(channel.id);
  const isAlike = pair?.amplifierId === amplifier.id && pair.differsFromPair !== true && channel.differsFromPair !== true;
  const theirs = pair === undefined || !isAlike ? undefined : onsetNow(now, pair, amplifier);
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
