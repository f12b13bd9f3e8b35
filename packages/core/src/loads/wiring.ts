import { coilWords, type LoadCoil } from './drivers.ts';
import type { Network } from './network.ts';

/** A terminal: of the amplifier (`amp+`, `amp-`, and `amp2+`, `amp2-` where it has a second pair) or of a coil (`A1+`). */
export type Terminal = string;

/** A wire between two terminals. */
export type Join = readonly [Terminal, Terminal];

export const AMPLIFIER_PLUS: readonly Terminal[] = ['amp+', 'amp2+'];
export const AMPLIFIER_MINUS: readonly Terminal[] = ['amp-', 'amp2-'];

export const isAmplifierTerminal = (terminal: Terminal): boolean => terminal.startsWith('amp');

/** The coil that a terminal belongs to. */
export const coilOf = (terminal: Terminal): string => terminal.slice(0, -1);

/** Every terminal of an amplifier's channel and of coils, the amplifier's first. */
export function terminalsOf(coils: readonly Pick<LoadCoil, 'name'>[], terminalPairs: 1 | 2): Terminal[] {
  const amplifier = terminalPairs === 2 ? ['amp+', 'amp-', 'amp2+', 'amp2-'] : ['amp+', 'amp-'];
  return [...amplifier, ...coils.flatMap(({ name }) => [`${name}+`, `${name}-`])];
}

/**
 * The wires that make a network: from the amplifier's plus to its minus, terminal to terminal, the fewest that do it.
 *
 * Where like ends meet, they are chained: first those that end a group, then those that begin the next, so that one series
 * jumper leads from group to group.
 *
 * @param terminalPairs - with two pairs, branches side by side are fed from both in turn
 */
export function joinsOf(network: Network, terminalPairs: 1 | 2 = 1): Join[] {
  const branches = terminalPairs === 2 && network.kind === 'parallel' ? network.parts : [network];
  const pairs = branches.length === 1 ? [{ plus: 'amp+', minus: 'amp-', parts: branches }] : dealtToPairs(branches);
  return pairs.flatMap(({ plus, minus, parts }) => {
    const joins: Join[] = [];
    const { begins, ends } = endsOf(parts.length === 1 ? parts[0]! : { kind: 'parallel', parts }, joins);
    return [...chain([plus, ...begins]), ...joins, ...chain([...ends, minus])];
  });
}

function dealtToPairs(branches: readonly Network[]): { plus: Terminal; minus: Terminal; parts: Network[] }[] {
  const half = Math.ceil(branches.length / 2);
  return [
    { plus: 'amp+', minus: 'amp-', parts: branches.slice(0, half) },
    { plus: 'amp2+', minus: 'amp2-', parts: branches.slice(half) },
  ];
}

interface Ends {
  /** terminals towards the amplifier's plus, not yet joined with each other */
  begins: Terminal[];
  ends: Terminal[];
}

function endsOf(network: Network, joins: Join[]): Ends {
  if (network.kind === 'coil') {
    const [up, down] = network.reversed ? ['-', '+'] : ['+', '-'];
    return { begins: [`${network.coil}${up}`], ends: [`${network.coil}${down}`] };
  }
  if (network.kind === 'parallel') {
    const parts = network.parts.map((part) => endsOf(part, joins));
    return { begins: parts.flatMap(({ begins }) => begins), ends: parts.flatMap(({ ends }) => ends) };
  }
  const [first, ...rest] = network.parts;
  let last = endsOf(first!, joins);
  const { begins } = last;
  for (const part of rest) {
    const next = endsOf(part, joins);
    joins.push(...chain([...last.ends, ...next.begins]));
    last = next;
  }
  return { begins, ends: last.ends };
}

const chain = (terminals: readonly Terminal[]): Join[] => terminals.slice(1).map((terminal, i) => [terminals[i]!, terminal]);

/** "amplifier plus", "A coil 1 minus", or "A minus" for a driver of one coil. */
export function terminalWords(terminal: Terminal, coils: readonly Pick<LoadCoil, 'name' | 'driver'>[]): string {
  const end = terminal.endsWith('+') ? 'plus' : 'minus';
  if (isAmplifierTerminal(terminal)) return `amplifier ${coilOf(terminal) === 'amp2' ? 'second pair ' : ''}${end}`;
  const coil = coils.find(({ name }) => name === coilOf(terminal));
  return `${coil === undefined ? coilOf(terminal) : coilWords(coil, coils)} ${end}`;
}

export type JoinKind = 'feed' | 'series' | 'parallel';

/** One wire as an instruction: "wire from amplifier plus to A coil 1 plus", "jumper from A coil 1 minus to A coil 2 plus". */
export function joinWords([from, to]: Join, kind: JoinKind, coils: readonly Pick<LoadCoil, 'name' | 'driver'>[]): string {
  return `${kind === 'feed' ? 'wire' : 'jumper'} from ${terminalWords(from, coils)} to ${terminalWords(to, coils)}`;
}

export const sameJoin = (a: Join, b: Join): boolean => (a[0] === b[0] && a[1] === b[1]) || (a[0] === b[1] && a[1] === b[0]);

/** The same wires, in whatever order. */
export function sameWires(a: readonly Join[], b: readonly Join[]): boolean {
  return a.length === b.length && a.every((join) => b.some((other) => sameJoin(join, other)));
}
