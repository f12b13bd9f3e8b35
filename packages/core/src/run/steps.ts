import { targetVoltage, type TargetVoltage } from '../gain/targetVoltage.ts';
import { hookup, type Hookup } from '../loads/hookup.ts';
import type { Amplifier, Chain, Channel, HouseRules } from './chain.ts';
import type { Conditions } from './records.ts';
import { targetPower, type TargetPower } from './targetPower.ts';

export type StepKind = 'gain' | 'proof';

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

/** The ordered steps that a chain calls for: every gain first, then every proof. Channels whose amplifier is missing are left out. */
export function stepsOf(chain: Chain, rules: HouseRules): Step[] {
  const kinds: StepKind[] = ['gain', 'proof'];
  return kinds.flatMap((kind) =>
    chain.channels.flatMap((channel) => {
      const amplifier = chain.amplifiers.find(({ id }) => id === channel.amplifierId);
      return amplifier === undefined ? [] : [stepOf(kind, channel, amplifier, rules)];
    }),
  );
}

function stepOf(kind: StepKind, channel: Channel, amplifier: Amplifier, rules: HouseRules): Step {
  const power = targetPower(amplifier, channel);
  const { minimumStereoOhm, minimumBridgedOhm, minimumMonoOhm } = amplifier;
  return {
    id: stepId(kind, channel.id),
    kind,
    channel,
    amplifier,
    toneHz: channel.band === 'bass' ? rules.bassToneHz : rules.otherToneHz,
    hookup: hookup({
      mode: channel.mode,
      loadOhm: channel.loadOhm,
      ...(minimumStereoOhm === undefined ? {} : { minimumStereoOhm }),
      ...(minimumBridgedOhm === undefined ? {} : { minimumBridgedOhm }),
      ...(minimumMonoOhm === undefined ? {} : { minimumMonoOhm }),
    }),
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

/** The conditions under which a reading of this step is taken now. */
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
