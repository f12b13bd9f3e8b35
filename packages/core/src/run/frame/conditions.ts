import { connectedLoadOhm, type Channel, type HouseRules } from '../../job/chain.ts';
import { bandWords } from '../../job/channelEqualiser.ts';
import { filtersOf, filterWords } from '../../job/channelFilters.ts';
import { channelNetwork } from '../../job/channelWiring.ts';
import { ohmAccuracy, type LoadConditions, type OhmConditions } from '../../job/conditions.ts';
import { voltageFactor } from '../../levels/decibels.ts';
import { networkText } from '../../loads/network.ts';
import type { ChannelNow } from './channels.ts';
import { playedNow } from './played.ts';
import { readingsAt, stepId, type Situation } from './situation.ts';

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
