import type { Network } from './network.ts';

export interface SolvedNetwork {
  ohm: number;
  /** share of the network's power in each coil; they sum to 1 */
  shares: Map<string, number>;
}

/**
 * Resistance of a network and how its power divides among the coils.
 *
 * @param ohmOf - ohms of a coil, above 0
 * @see Kirchhoff's laws: in series one current, so power goes as R; in parallel one voltage, so power goes as 1 / R
 */
export function solveNetwork(network: Network, ohmOf: (coil: string) => number): SolvedNetwork {
  const shares = new Map<string, number>();
  const divide = (part: Network, share: number): void => {
    if (part.kind === 'coil') {
      shares.set(part.coil, share);
      return;
    }
    const weights = part.parts.map((inner) => (part.kind === 'series' ? networkOhm(inner, ohmOf) : 1 / networkOhm(inner, ohmOf)));
    const sum = weights.reduce((a, b) => a + b, 0);
    part.parts.forEach((inner, i) => divide(inner, (share * weights[i]!) / sum));
  };
  divide(network, 1);
  return { ohm: networkOhm(network, ohmOf), shares };
}

/** Resistance of a network alone. A coil may be 0 (shorted) or Infinity (open), and so may the answer. */
export function networkOhm(network: Network, ohmOf: (coil: string) => number): number {
  if (network.kind === 'coil') return ohmOf(network.coil);
  let sum = 0;
  for (const part of network.parts) {
    const ohm = networkOhm(part, ohmOf);
    sum += network.kind === 'series' ? ohm : 1 / ohm;
  }
  return network.kind === 'series' ? sum : 1 / sum;
}
