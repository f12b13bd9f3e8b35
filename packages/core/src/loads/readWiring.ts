import { solveLinear } from '../numerics/solveLinear.ts';
import type { LoadCoil } from './drivers.ts';
import { flattened, turnedRound, type Network } from './network.ts';
import {
  AMPLIFIER_MINUS,
  AMPLIFIER_PLUS,
  coilOf,
  isAmplifierTerminal,
  terminalsOf,
  type Join,
  type JoinKind,
  type Terminal,
} from './wiring.ts';

export type CoilState = 'works' | 'reversed' | 'open' | 'shorted' | 'idle';

export interface WiringReading {
  kind: 'load' | 'open' | 'short';
  /** nominal; only for a load */
  loadOhm?: number;
  /** share of the power in each coil; coils that get none are at 0 */
  shares: Map<string, number>;
  states: Map<string, CoilState>;
  /** the wiring as a network of series and parallel groups, where it is one */
  network?: Network;
  kinds: JoinKind[];
}

/** Under this part of the whole voltage a coil gets nothing: far above rounding, far below any real share. */
const NO_VOLTAGE = 1e-9;

/**
 * What a drawn wiring is: the load that it presents, what every coil gets, and which coils are open, shorted or turned round.
 *
 * Any circuit is solved, by node voltages with 1 V at the amplifier; series and parallel groups are also read back as a network.
 *
 * @param coils - every coil that is there, connected or not
 * @see Kirchhoff's current law at every node: the currents through its coils sum to zero
 */
export function readWiring(coils: readonly LoadCoil[], joins: readonly Join[]): WiringReading {
  const nodeOf = nodes(coils, joins);
  const source = nodeOf.get('amp+')!;
  const sink = nodeOf.get('amp-')!;
  const shares = new Map(coils.map(({ name }) => [name, 0]));
  if (source === sink) return { kind: 'short', shares, states: statesWhen(coils, nodeOf, 'idle'), kinds: kindsOf(joins, new Map()) };

  const edges = coils
    .map(({ name, nominalOhm }) => ({ name, ohm: nominalOhm, from: nodeOf.get(`${name}+`)!, to: nodeOf.get(`${name}-`)! }))
    .filter(({ from, to }) => from !== to);
  const volts = nodeVolts(edges, source, sink);
  const states = statesWhen(coils, nodeOf, 'open');
  let siemens = 0;
  for (const { name, ohm, from, to } of edges) {
    const volt = (volts.get(from) ?? NaN) - (volts.get(to) ?? NaN);
    if (Number.isNaN(volt)) continue;
    if (Math.abs(volt) < NO_VOLTAGE) {
      // Both ends hang on the circuit and yet nothing flows: a dead end, or the middle of a balanced bridge.
      states.set(name, 'open');
      continue;
    }
    states.set(name, volt > 0 ? 'works' : 'reversed');
    shares.set(name, volt ** 2 / ohm);
    siemens += volt ** 2 / ohm;
  }
  if (siemens === 0) return { kind: 'open', shares, states, kinds: kindsOf(joins, states) };
  for (const [name, watt] of shares) shares.set(name, watt / siemens);
  const network = reduced(
    edges.filter(({ name }) => shares.get(name)! > 0),
    source,
    sink,
  );
  return {
    kind: 'load',
    loadOhm: 1 / siemens,
    shares,
    states,
    ...(network === undefined ? {} : { network }),
    kinds: kindsOf(joins, states),
  };
}

/** Terminals that wires join are one node. Both pairs of a channel are the same two points. */
function nodes(coils: readonly LoadCoil[], joins: readonly Join[]): Map<Terminal, Terminal> {
  const parent = new Map(terminalsOf(coils, 2).map((terminal) => [terminal, terminal]));
  const root = (terminal: Terminal): Terminal => {
    let at = terminal;
    while (parent.get(at) !== undefined && parent.get(at) !== at) at = parent.get(at)!;
    return at;
  };
  for (const [a, b] of [...joins, AMPLIFIER_PLUS as Join, AMPLIFIER_MINUS as Join]) {
    if (parent.has(a) && parent.has(b)) parent.set(root(a), root(b));
  }
  return new Map([...parent.keys()].map((terminal) => [terminal, root(terminal)]));
}

function statesWhen(coils: readonly LoadCoil[], nodeOf: ReadonlyMap<Terminal, Terminal>, otherwise: CoilState): Map<string, CoilState> {
  return new Map(coils.map(({ name }) => [name, nodeOf.get(`${name}+`) === nodeOf.get(`${name}-`) ? 'shorted' : otherwise]));
}

interface Edge {
  name: string;
  ohm: number;
  from: Terminal;
  to: Terminal;
}

/** Volts at every node that hangs together with the amplifier, its plus at 1 and its minus at 0. */
function nodeVolts(edges: readonly Edge[], source: Terminal, sink: Terminal): Map<Terminal, number> {
  const reached = new Set([source, sink]);
  for (let before = 0; before < reached.size;) {
    before = reached.size;
    for (const { from, to } of edges) {
      if (reached.has(from)) reached.add(to);
      if (reached.has(to)) reached.add(from);
    }
  }
  const inner = [...reached].filter((node) => node !== source && node !== sink);
  const index = new Map(inner.map((node, i) => [node, i]));
  const matrix = inner.map(() => inner.map(() => 0));
  const right = inner.map(() => 0);
  for (const { from, to, ohm } of edges) {
    for (const [one, other] of [
      [from, to],
      [to, from],
    ] as const) {
      const row = index.get(one);
      if (row === undefined) continue;
      matrix[row]![row]! += 1 / ohm;
      const column = index.get(other);
      if (column !== undefined) matrix[row]![column]! -= 1 / ohm;
      else if (other === source) right[row]! += 1 / ohm;
    }
  }
  const solution = solveLinear(matrix, right) ?? [];
  return new Map([[source, 1], [sink, 0], ...inner.map((node, i) => [node, solution[i] ?? NaN] as const)]);
}

/** Folds parallel and series neighbours into one until a single branch is left; undefined where the circuit is a bridge. */
function reduced(edges: readonly Edge[], source: Terminal, sink: Terminal): Network | undefined {
  let branches = edges.map(({ name, from, to }): Branch => ({ from, to, network: { kind: 'coil', coil: name, reversed: false } }));
  for (;;) {
    const before = branches.length;
    branches = foldParallel(branches);
    branches = foldSeries(branches, source, sink);
    if (branches.length === 1) break;
    if (branches.length === before) return undefined;
  }
  const [{ from, network }] = branches as [Branch];
  return flattened(from === source ? network : turnedRound(network));
}

interface Branch {
  from: Terminal;
  to: Terminal;
  network: Network;
}

function foldParallel(branches: readonly Branch[]): Branch[] {
  const folded: Branch[] = [];
  for (const branch of branches) {
    const twin = folded.find(({ from, to }) => (from === branch.from && to === branch.to) || (from === branch.to && to === branch.from));
    if (twin === undefined) {
      folded.push({ ...branch });
      continue;
    }
    const along = twin.from === branch.from ? branch.network : turnedRound(branch.network);
    twin.network = flattened({ kind: 'parallel', parts: [twin.network, along] });
  }
  return folded;
}

function foldSeries(branches: readonly Branch[], source: Terminal, sink: Terminal): Branch[] {
  const node = branches
    .flatMap(({ from, to }) => [from, to])
    .find((n) => n !== source && n !== sink && branches.filter(({ from, to }) => from === n || to === n).length === 2);
  if (node === undefined) return [...branches];
  const [first, second] = branches.filter(({ from, to }) => from === node || to === node) as [Branch, Branch];
  const into = first.to === node ? first : { from: first.to, to: first.from, network: turnedRound(first.network) };
  const out = second.from === node ? second : { from: second.to, to: second.from, network: turnedRound(second.network) };
  const one: Branch = {
    from: into.from,
    to: out.to,
    network: flattened({ kind: 'series', parts: [into.network, out.network] }),
  };
  return [...branches.filter((branch) => branch !== first && branch !== second), one];
}

/** A jumper between like ends of two coils puts them side by side, one between unlike ends puts them in a row. */
function kindsOf(joins: readonly Join[], states: ReadonlyMap<string, CoilState>): JoinKind[] {
  const towardsPlus = (terminal: Terminal): boolean => terminal.endsWith('+') !== (states.get(coilOf(terminal)) === 'reversed');
  return joins.map(([a, b]) => {
    if (isAmplifierTerminal(a) || isAmplifierTerminal(b)) return 'feed';
    return towardsPlus(a) === towardsPlus(b) ? 'parallel' : 'series';
  });
}
