import type { LoadCoil } from './drivers.ts';
import { familyOf } from './loadOptions.ts';
import { coilsIn, parseOwnNetwork, type Network } from './network.ts';

/** A wiring in a few words, such as "coils in series, drivers in parallel" or "2 groups in parallel". */
export function networkWords(network: Network, coils: readonly LoadCoil[]): string {
  if (network.kind === 'coil') return 'one coil';
  const family = familyOf(network, new Map(coils.map((coil) => [coil.name, coil])));
  const thing = new Set(coils.map(({ driver }) => driver)).size === 1 ? 'coils' : 'all';
  switch (family) {
    case 'series':
      return `${thing} in series`;
    case 'parallel':
      return `${thing} in parallel`;
    case 'series-parallel':
      return 'coils in series, drivers in parallel';
    case 'parallel-series':
      return 'coils in parallel, drivers in series';
    case 'mixed':
      return `${network.parts.length} ${network.kind === 'parallel' ? 'series' : 'parallel'} groups in ${network.kind}`;
  }
}

/**
 * The same for a network as text, its coils named by driver and number.
 *
 * @throws {CoreError} as `parseNetwork`
 * @example networkTextWords('(A1+A2)|(B1+B2)') // 'coils in series, drivers in parallel'
 */
export function networkTextWords(text: string): string {
  const network = parseOwnNetwork(text);
  const coils = coilsIn(network).map(({ coil }): LoadCoil => ({ name: coil, driver: coil.replace(/\d+$/, ''), nominalOhm: 1 }));
  return networkWords(network, coils);
}
