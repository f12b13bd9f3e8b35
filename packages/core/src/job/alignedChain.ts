import type { Action } from '../findings.ts';
import type { Chain } from './chain.ts';

/** The chain once channels are delayed by so much more and turned over, as an alignment at a crossover asks for. */
export function alignedChain(
  chain: Chain,
  { addSecond, reverse }: Pick<Extract<Action, { kind: 'align' }>, 'addSecond' | 'reverse'>,
): Chain {
  const { listening = {}, channels } = chain;
  const trims = channels.map(({ id }) => [id, (listening.trimSecond?.[id] ?? 0) + (addSecond[id] ?? 0)] as const);
  // Only differences count: the least delayed one has none.
  const least = Math.min(...trims.map(([, second]) => second));
  const trimSecond = Object.fromEntries(trims.map(([id, second]) => [id, Math.round((second - least) * 1e9) / 1e9]));
  return {
    ...chain,
    listening: { ...listening, trimSecond },
    channels: channels.map((channel) => {
      if (!reverse.includes(channel.id)) return channel;
      const { isReversed, ...rest } = channel;
      return isReversed === true ? rest : { ...rest, isReversed: true };
    }),
  };
}
