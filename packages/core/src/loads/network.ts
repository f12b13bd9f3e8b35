import { CoreError } from '../coreError.ts';

/** How coils hang together between the amplifier's plus and minus. A reversed coil has its plus terminal towards the minus side. */
export type Network = { kind: 'coil'; coil: string; reversed: boolean } | { kind: 'series' | 'parallel'; parts: Network[] };

const SIGN = { series: '+', parallel: '|' } as const;
const COIL_NAME = /^[A-Za-z][A-Za-z0-9_]*/;

/**
 * Reads a network such as `(A1+A2)|(B1+B2)`: + in series, | in parallel, parentheses, - before a coil that is reversed.
 *
 * @param known - names of the coils that may stand in it
 * @param pointer - where the text stands in the input, for the faults
 * @throws {CoreError} `INPUT_INVALID` where it is empty, unbalanced, mixes + and | without parentheses, or names a coil twice or one not known
 */
export function parseNetwork(text: string, known: ReadonlySet<string>, pointer = '/network'): Network {
  const seen = new Set<string>();
  let at = 0;

  const refuse = (message: string): CoreError => new CoreError('INPUT_INVALID', [{ pointer, message }]);
  const skipSpace = (): void => {
    while (/\s/.test(text.charAt(at))) at += 1;
  };
  const here = (): string => (at < text.length ? `at “${text.slice(at, at + 8)}” (character ${at + 1})` : 'at its end');

  const readCoil = (reversed: boolean): Network => {
    const coil = COIL_NAME.exec(text.slice(at))?.[0];
    if (coil === undefined) {
      throw refuse(reversed ? `a minus stands before a coil's name only, ${here()}` : `the network wants a coil's name ${here()}`);
    }
    if (!known.has(coil)) throw refuse(`the network names coil ${coil}, which is not described; there are ${[...known].join(', ')}`);
    if (seen.has(coil)) throw refuse(`the network names coil ${coil} twice`);
    seen.add(coil);
    at += coil.length;
    return { kind: 'coil', coil, reversed };
  };

  const readItem = (): Network => {
    skipSpace();
    if (text.charAt(at) === '-') {
      at += 1;
      skipSpace();
      return readCoil(true);
    }
    if (text.charAt(at) !== '(') return readCoil(false);
    at += 1;
    const inside = readGroup();
    if (text.charAt(at) !== ')') throw refuse(`a parenthesis is not closed ${here()}`);
    at += 1;
    return inside;
  };

  const readGroup = (): Network => {
    const parts = [readItem()];
    let sign: string | undefined;
    skipSpace();
    while (text.charAt(at) === '+' || text.charAt(at) === '|') {
      sign ??= text.charAt(at);
      if (text.charAt(at) !== sign) throw refuse(`+ and | side by side want parentheses to say which comes first, ${here()}`);
      at += 1;
      parts.push(readItem());
      skipSpace();
    }
    return sign === undefined ? parts[0]! : { kind: sign === '+' ? 'series' : 'parallel', parts };
  };

  if (text.trim() === '') throw refuse('the network is empty: write it as A1+A2 for series, A1|A2 for parallel');
  const network = readGroup();
  if (at < text.length) throw refuse(`the network goes on where it should end, ${here()}`);
  return flattened(network);
}

/**
 * Reads a network as conditions carry it: the coils that it names are those that there were.
 *
 * @throws {CoreError} `INPUT_INVALID` as `parseNetwork`, but for names that are not known
 * @example networkText(parseOwnNetwork('A1 + A2')) // 'A1+A2'
 */
export const parseOwnNetwork = (text: string, pointer = '/network'): Network =>
  parseNetwork(text, new Set(text.match(/[A-Za-z]\w*/g)), pointer);

/** The network as text, with no more parentheses than needed. */
export function networkText(network: Network): string {
  if (network.kind === 'coil') return `${network.reversed ? '-' : ''}${network.coil}`;
  return network.parts.map((part) => (part.kind === 'coil' ? networkText(part) : `(${networkText(part)})`)).join(SIGN[network.kind]);
}

/** The same text for every way of writing one circuit: the order of parts in a group changes nothing electrically. */
export function canonicalText(network: Network): string {
  return networkText(sorted(flattened(network)));
}

/** Coils in the order in which the network names them. */
export function coilsIn(network: Network): { coil: string; reversed: boolean }[] {
  return network.kind === 'coil' ? [{ coil: network.coil, reversed: network.reversed }] : network.parts.flatMap(coilsIn);
}

/** Groups inside a group of the same kind belong to it; a group of one is that one. */
export function flattened(network: Network): Network {
  if (network.kind === 'coil') return network;
  const { kind } = network;
  const parts = network.parts.map(flattened).flatMap((part) => (part.kind === kind ? part.parts : [part]));
  return parts.length === 1 ? parts[0]! : { kind, parts };
}

function sorted(network: Network): Network {
  if (network.kind === 'coil') return network;
  const byText = network.parts.map(sorted).map((part) => ({ part, text: networkText(part).replaceAll('-', '') }));
  byText.sort((a, b) => a.text.localeCompare(b.text, 'en', { numeric: true }));
  return { kind: network.kind, parts: byText.map(({ part }) => part) };
}

/** The same circuit fed the other way round: every coil reversed. */
export function turnedRound(network: Network): Network {
  if (network.kind === 'coil') return { ...network, reversed: !network.reversed };
  const parts = network.parts.map(turnedRound);
  return { kind: network.kind, parts: network.kind === 'series' ? parts.reverse() : parts };
}

/** The network without some of its coils, as if they were never connected; undefined where none is left. */
export function without(network: Network, gone: (coil: string) => boolean): Network | undefined {
  if (network.kind === 'coil') return gone(network.coil) ? undefined : network;
  const parts = network.parts.flatMap((part) => without(part, gone) ?? []);
  return parts.length === 0 ? undefined : flattened({ kind: network.kind, parts });
}
