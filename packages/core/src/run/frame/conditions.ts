import { connectedLoadOhm, type Channel, type HouseRules } from '../../job/chain.ts';
import { bandWords } from '../../job/channelEqualiser.ts';
import { filtersOf, filterWords } from '../../job/channelFilters.ts';
import { channelNetwork } from '../../job/channelWiring.ts';
import {
  ohmAccuracy,
  type LineConditions,
  type AirConditions,
  type LoadConditions,
  type OhmConditions,
  type PlayedConditions,
  type SourceSettings,
} from '../../job/conditions.ts';
import { sourceControls, sourceIdOf, toneInput } from '../../job/source.ts';
import { voltageFactor } from '../../levels/decibels.ts';
import { networkText } from '../../loads/network.ts';
import type { ChannelNow } from './channels.ts';
import { markAt, once, readingsAt, stepId, type Situation } from './situation.ts';

/** How the controls stand at the input that plays the tones, by its Flat list; undefined where nothing was ticked. */
export const sourceSettingsNow = once((now: Situation): SourceSettings | undefined => {
  const { source } = now.chain;
  const mark = markAt(now, stepId('flat', toneInput(source)));
  if (mark === undefined || mark.checks.length === 0) return undefined;
  return Object.fromEntries(
    sourceControls(source).flatMap(({ id, neutral }) => (mark.checks.includes(id) ? [[id, mark.values?.[id] ?? neutral]] : [])),
  );
});

/** What of the tone and the source every condition carries, at the working volume. */
function playedNow(now: Situation, toneHz: number, toneLevelDbfs = now.settings.rules.toneLevelDbfs): PlayedConditions {
  const { source } = now.chain;
  const sourceSettings = sourceSettingsNow(now);
  return {
    toneHz,
    toneLevelDbfs,
    sourceId: sourceIdOf(source),
    sourceName: source.name,
    sourceVolume: source.workingVolume,
    sourceInput: toneInput(source),
    ...(sourceSettings === undefined ? {} : { sourceSettings }),
  };
}

/** The conditions under which something is measured at a channel's terminals now. */
export function loadConditions(
  { channel, amplifier, toneHz, toneLevelDbfs, target, loss }: ChannelNow,
  now: Situation,
  load: HouseRules['loadWhileSetting'],
): LoadConditions {
  const network = load === 'on' && channel.dummyOhm !== undefined ? undefined : channelNetwork(channel);
  const fedVolt = fedVoltNow(channel, now);
  return {
    at: 'load',
    ...playedNow(now, toneHz, toneLevelDbfs),
    load,
    loadOhm: load === 'on' ? connectedLoadOhm(channel) : channel.loadOhm,
    ...(network === undefined ? {} : { network: networkText(network) }),
    mode: channel.mode,
    amplifierId: amplifier.id,
    amplifierName: amplifier.name,
    ...(target === undefined ? {} : { targetVolt: target.settingVoltage }),
    ...(fedVolt === undefined ? {} : { fedVolt }),
    filters: {
      words: [...filtersOf(channel).map(filterWords), ...(channel.equaliser ?? []).map(bandWords)].join('; '),
      setDb: loss.setDb,
      ...(loss.basis === 'proved' ? { provedDb: loss.db } : {}),
    },
  };
}

/** What the processor's output before a channel gives a full-scale tone, by what was read there last. */
function fedVoltNow({ processorOutputId }: Channel, now: Situation): number | undefined {
  if (processorOutputId === undefined) return undefined;
  const read = readingsAt(now, stepId('output', processorOutputId), 'output-voltage', 'line').at(-1);
  return read === undefined ? undefined : Number((read.value / voltageFactor(read.conditions.toneLevelDbfs)).toPrecision(4));
}

/** The conditions under which the source's or the processor's output is looked at now, at the working volume. */
export const lineConditions = (now: Situation, toneHz: number, toneLevelDbfs?: number): LineConditions => ({
  at: 'line',
  ...playedNow(now, toneHz, toneLevelDbfs),
});

/** The conditions under which something is heard at the listener's head now. */
export const airConditions = (now: Situation, toneHz: number): AirConditions => ({
  at: 'air',
  ...playedNow(now, toneHz),
  position: 'listener’s head',
});

/** The conditions under which a channel's whole wiring is metered now. */
export function wiringConditions({ channel }: ChannelNow, now: Situation): OhmConditions {
  const network = channelNetwork(channel);
  return { ...ohmsNow(now), nominalOhm: channel.loadOhm, ...(network === undefined ? {} : { network: networkText(network) }) };
}

/** What every resistance carries. */
export const ohmsNow = ({ settings: { meter } }: Situation): Omit<OhmConditions, 'nominalOhm'> => ({
  at: 'ohm',
  leadOhm: meter.leadOhm ?? 0,
  ...ohmAccuracy(meter),
});
