import type { Finding } from '../../findings.ts';
import type { ActiveFilter, Amplifier } from '../../job/chain.ts';
import { hookupOf } from '../../loads/planLoads.ts';
import { channelsNow, type ChannelNow } from '../frame/channels.ts';
import { stepId, type Situation } from '../frame/situation.ts';
import type { Doubt } from './doubt.ts';

/** What the chain says against itself: two loads on one pair of terminals, more channels than an amplifier has, one output for two ways. */
export function chainDoubts(now: Situation): Doubt[] {
  const channels = channelsNow(now);
  return [
    ...now.chain.amplifiers.flatMap((amplifier) =>
      ofTerminals(
        amplifier,
        channels.filter((each) => each.amplifier.id === amplifier.id),
      ),
    ),
    ...ofOutputs(now, channels),
  ];
}

/** What is printed at terminals, but for how it was typed. */
const pairOf = ({ channel: { terminals } }: ChannelNow): string => terminals.replaceAll(/\s+/g, '').toLowerCase();

function ofTerminals(amplifier: Amplifier, own: readonly ChannelNow[]): Doubt[] {
  const doubt = ({ channel }: ChannelNow, finding: Finding): Doubt => ({
    quantity: `terminals:${amplifier.id}`,
    of: 'terminals',
    at: stepId('hookup', channel.id),
    finding,
    isWitnessed: true,
  });
  const groups = new Map<string, ChannelNow[]>();
  for (const each of own) {
    // A one-channel amplifier has one output, however many pairs of terminals.
    const pair = each.channel.mode === 'mono' ? 'mono' : pairOf(each);
    if (pair === '') continue;
    const group = groups.get(pair);
    if (group === undefined) groups.set(pair, [each]);
    else group.push(each);
  }
  const shared = [...groups.values()].filter((group) => group.length > 1);
  const used = own.reduce((count, { channel }) => count + (channel.mode === 'bridged' ? 2 : 1), 0);
  const last = own.at(-1);
  return [
    ...shared.map((group) => doubt(group.at(-1)!, sharedFinding(group))),
    ...(last === undefined || shared.length > 0 || amplifier.channelCount === undefined || used <= amplifier.channelCount
      ? []
      : [
          doubt(last, {
            code: 'too-many-channels',
            grade: 'attention',
            figures: { amplifierName: amplifier.name, used, channelCount: amplifier.channelCount },
            action: { kind: 'describe', what: 'terminals' },
          }),
        ]),
  ];
}

/** Two loads on one pair of terminals are in parallel. */
function sharedFinding(group: readonly ChannelNow[]): Finding {
  const { channel, amplifier } = group[0]!;
  const togetherOhm = 1 / group.reduce((sum, each) => sum + 1 / each.channel.loadOhm, 0);
  const isLow = hookupOf({ ...amplifier, mode: channel.mode }, togetherOhm).verdict === 'below-minimum';
  return {
    code: 'terminals-shared',
    grade: isLow ? 'stop' : 'attention',
    figures: { channelNames: group.map((each) => each.channel.name), terminals: channel.terminals, togetherOhm, isLow },
    action: { kind: 'describe', what: 'terminals' },
  };
}

/** Filters of a processor's output are the same for whatever hangs on it. */
function ofOutputs({ chain }: Situation, channels: readonly ChannelNow[]): Doubt[] {
  return (chain.processor?.outputs ?? []).flatMap((output): Doubt[] => {
    const [first, ...others] = channels.filter(({ channel }) => channel.processorOutputId === output.id);
    if (first === undefined) return [];
    const other = others.find((each) => lineFilters(each) !== lineFilters(first));
    if (other === undefined) return [];
    const finding: Finding = {
      code: 'output-of-two-ways',
      grade: 'attention',
      figures: { outputName: output.name, channelNames: [first.channel.name, other.channel.name] },
      action: { kind: 'describe', what: 'filters' },
    };
    return [first, other].map(({ channel }) => ({
      quantity: `way:${channel.id}`,
      of: 'way',
      at: stepId('filters', other.channel.id),
      finding,
      isWitnessed: true,
    }));
  });
}

const lineFilters = ({ channel: { filters = [] } }: ChannelNow): string =>
  filters
    .filter(({ place }) => place === 'processor')
    .map(({ kind, order, cornerHz, family }: ActiveFilter) => `${kind}/${order}/${cornerHz}/${family}`)
    .sort()
    .join(' ');
