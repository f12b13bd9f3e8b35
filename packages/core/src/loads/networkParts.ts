import type { Network } from './network.ts';

/** The names of all coils in a network. */
export function coilsIn(network: Network): Set<string> {
  return network.kind === 'coil' ? new Set([network.coil]) : new Set(network.parts.flatMap((part) => [...coilsIn(part)]));
}

/**
 * The part of a network that is made of just these coils and reaches the others over two points alone, so that it can be taken off and
 * metered by itself; undefined where the coils do not hang together so.
 */
export function partOfDriver(network: Network, own: ReadonlySet<string>): Network | undefined {
  const inside = coilsIn(network);
  if (![...own].every((coil) => inside.has(coil)) || own.size === 0) return undefined;
  if (inside.size === own.size) return network;
  if (network.kind === 'coil') return undefined;
  const holding = network.parts.filter((part) => [...coilsIn(part)].some((coil) => own.has(coil)));
  if (holding.length === 1) return partOfDriver(holding[0]!, own);
  const isTheirs = holding.every((part) => [...coilsIn(part)].every((coil) => own.has(coil)));
  return isTheirs ? { kind: network.kind, parts: holding } : undefined;
}
