import { targetVoltage, type TargetVoltage } from '../gain/targetVoltage.ts';
import type { Hookup } from '../loads/hookup.ts';
import { hookupOf } from '../loads/planLoads.ts';
import type { Amplifier, Chain, Channel, HouseRules } from './chain.ts';
import { channelCoils } from './channelWiring.ts';
import type { Conditions } from './records.ts';
import { targetPower, type TargetPower } from './targetPower.ts';

export type StepKind = 'coils' | 'whole' | 'hookup' | 'gain' | 'proof';

export const STEP_KINDS: readonly StepKind[] = ['coils', 'whole', 'hookup', 'gain', 'proof'];

/** A step's id is its kind and its channel's id. */
export const STEP_ID_PATTERN = `^(${STEP_KINDS.join('|')}):[A-Za-z0-9-]{1,64}$`;

/** One thing to set, measure and judge. */
export interface Step {
  /** stable over edits of the chain: kind and channel */
  id: string;
  kind: StepKind;
  channel: Channel;
  amplifier: Amplifier;
  toneHz: number;
  hookup: Hookup;
  power: TargetPower;
  /** undefined where the power is unknown */
  target?: TargetVoltage;
}

export const stepId = (kind: StepKind, channelId: string): string => `${kind}:${channelId}`;

/**
 * The ordered steps that a chain calls for: each channel's load metered and hooked up, then every gain, then every proof.
 *
 * Channels whose amplifier is missing are left out; a single coil is metered once, as the whole.
 */
export function stepsOf(chain: Chain, rules: HouseRules): Step[] {
  const stages: StepKind[][] = [['coils', 'whole', 'hookup'], ['gain'], ['proof']];
  return stages.flatMap((kinds) =>
    chain.channels.flatMap((channel) => {
      const amplifier = chain.amplifiers.find(({ id }) => id === channel.amplifierId);
      if (amplifier === undefined) return [];
      return kinds.filter((kind) => callsFor(channel, kind)).map((kind) => stepOf(kind, channel, amplifier, rules));
    }),
  );
}

function callsFor(channel: Channel, kind: StepKind): boolean {
  if (kind === 'coils') return channelCoils(channel).length > 1;
  return kind !== 'whole' || channel.drivers.length > 0;
}

function stepOf(kind: StepKind, channel: Channel, amplifier: Amplifier, rules: HouseRules): Step {
  const power = targetPower(amplifier, channel);
  return {
    id: stepId(kind, channel.id),
    kind,
    channel,
    amplifier,
    toneHz: channel.band === 'bass' ? rules.bassToneHz : rules.otherToneHz,
    hookup: channelHookup(channel, amplifier),
    power,
    ...(power.kind === 'unknown'
      ? {}
      : {
          target: targetVoltage({
            powerWatt: power.powerWatt,
            loadOhm: channel.loadOhm,
            toneLevelDbfs: rules.toneLevelDbfs,
            overlapDb: rules.overlapDb,
            headroomDb: rules.headroomDb,
          }),
        }),
  };
}

/** What the amplifier's channel sees of its load. */
export function channelHookup(channel: Pick<Channel, 'mode' | 'loadOhm'>, amplifier: Amplifier): Hookup {
  return hookupOf({ ...amplifier, mode: channel.mode }, channel.loadOhm);
}

/** The conditions under which a voltage, a current or a trace of this step is taken now. */
export function conditionsNow(step: Step, chain: Chain, rules: HouseRules): Conditions {
  return {
    toneHz: step.toneHz,
    toneLevelDbfs: rules.toneLevelDbfs,
    sourceName: chain.source.name,
    sourceVolume: chain.source.workingVolume,
    load: step.kind === 'proof' ? 'on' : rules.loadWhileSetting,
    loadOhm: step.channel.loadOhm,
    mode: step.channel.mode,
    amplifierName: step.amplifier.name,
    ...(step.target === undefined ? {} : { targetVolt: step.target.settingVoltage }),
  };
}
