import { byDriver } from './drivers.ts';
import { terminalsOf, type Join, type Terminal } from './wiring.ts';

/** Geometry of a drawn wiring, in the drawing's own pixels. Blocks stand left and right of a channel in which the wires run. */
export interface WiringLayout {
  width: number;
  height: number;
  blocks: Block[];
  terminals: Map<Terminal, TerminalPlace>;
  wires: WirePlace[];
}

export interface Block {
  kind: 'amplifier' | 'driver';
  /** driver letter, or empty for the amplifier */
  driver: string;
  side: Side;
  x: number;
  y: number;
  width: number;
  height: number;
  coils: CoilPlace[];
}

interface CoilPlace {
  name: string;
  /** the coil hangs between these heights */
  plusY: number;
  minusY: number;
}

type Side = 'left' | 'right';

export interface TerminalPlace {
  x: number;
  y: number;
  side: Side;
}

export interface WirePlace {
  path: string;
  badge: { x: number; y: number };
}

const PITCH = 36;
const HEAD = 34;
const FOOT = 8;
const GAP = 18;
const BLOCK_WIDTH = 208;
const TRACK = 26;
const EDGE = 24;
const MARGIN = 12;
/** wires at one terminal leave it side by side, never so far out that they meet those from the other side */
const FAN = 7;

/** What of a coil a drawing goes by. */
export interface DrawnCoil {
  name: string;
  driver: string;
}

/** Places amplifier, drivers and wires so that no two wires run on top of each other. */
export function wiringLayout(coils: readonly DrawnCoil[], joins: readonly Join[], terminalPairs: 1 | 2): WiringLayout {
  const amplifier = terminalsOf([], terminalPairs);
  const drivers = byDriver(coils);
  const heights = drivers.map(({ coils: own }) => blockHeight(2 * own.length));
  const rightCount = driversOnTheRight(heights, blockHeight(amplifier.length));
  const columns = {
    left: [undefined, ...drivers.slice(rightCount)],
    right: drivers.slice(0, rightCount),
  };

  const terminals = new Map<Terminal, TerminalPlace>();
  const blocks: Block[] = [];
  for (const side of ['left', 'right'] as const) {
    // Half a pitch apart, so that a stub from the left never lies on one from the right.
    let y = MARGIN + (side === 'right' ? PITCH / 2 : 0);
    for (const driver of columns[side]) {
      const names = driver === undefined ? amplifier : driver.coils.flatMap(({ name }) => [`${name}+`, `${name}-`]);
      const at = (i: number): number => y + HEAD + PITCH * (i + 0.5);
      names.forEach((name, i) => terminals.set(name, { x: 0, y: at(i), side }));
      blocks.push({
        kind: driver === undefined ? 'amplifier' : 'driver',
        driver: driver?.driver ?? '',
        side,
        x: 0,
        y,
        width: BLOCK_WIDTH,
        height: blockHeight(names.length),
        coils: (driver?.coils ?? []).map(({ name }, i) => ({ name, plusY: at(2 * i), minusY: at(2 * i + 1) })),
      });
      // Whole pitches, so that the half pitch between the sides holds all the way down.
      y += Math.ceil((blockHeight(names.length) + GAP) / PITCH) * PITCH;
    }
  }

  const ends = fannedEnds(joins, terminals);
  const { tracks, count } = assignTracks(ends);
  const channel = Math.max(176, 2 * EDGE + (count - 1) * TRACK);
  const leftEdge = MARGIN + BLOCK_WIDTH;
  const rightEdge = leftEdge + channel;
  for (const block of blocks) block.x = block.side === 'left' ? MARGIN : rightEdge;
  for (const place of terminals.values()) place.x = place.side === 'left' ? leftEdge : rightEdge;
  const spread = count > 1 ? (channel - 2 * EDGE) / (count - 1) : 0;
  const trackX = (track: number): number => (count > 1 ? leftEdge + EDGE + track * spread : leftEdge + channel / 2);
  const runs = ends.map(({ from, to }, i): Run => {
    const edgeOf = ({ side }: End): number => (side === 'left' ? leftEdge : rightEdge);
    return { x1: edgeOf(from), y1: from.y, x: trackX(tracks[i]!), x2: edgeOf(to), y2: to.y };
  });
  return {
    width: rightEdge + BLOCK_WIDTH + MARGIN,
    height: Math.max(...blocks.map(({ y, height }) => y + height)) + MARGIN,
    blocks,
    terminals,
    wires: runs.map((run, i) => ({ path: wirePath(run.x1, run.y1, run.x, run.x2, run.y2), badge: { x: run.x, y: badgeY(i, runs) } })),
  };
}

/** One wire: along at y1, down its track at x, along at y2. */
interface Run {
  x1: number;
  y1: number;
  x: number;
  x2: number;
  y2: number;
}

const BADGE = 12;

/** On its track, as far as can be from the wires that cross it there; in the middle where all is free. */
function badgeY(index: number, runs: readonly Run[]): number {
  const { x, y1, y2 } = runs[index]!;
  const middle = (y1 + y2) / 2;
  const reach = Math.abs(y2 - y1) / 2 - BADGE;
  if (reach <= 0) return middle;
  const crossings = runs.flatMap((run, i) => {
    if (i === index) return [];
    const spans = (a: number, b: number): boolean => x > Math.min(a, b) - BADGE && x < Math.max(a, b) + BADGE;
    return [...(spans(run.x1, run.x) ? [run.y1] : []), ...(spans(run.x, run.x2) ? [run.y2] : [])];
  });
  const clearance = (y: number): number => Math.min(BADGE + 4, ...crossings.map((other) => Math.abs(other - y)));
  let best = middle;
  for (let off = 2; off <= reach; off += 2) {
    for (const y of [middle - off, middle + off]) if (clearance(y) > clearance(best) + 1) best = y;
  }
  return best;
}

const blockHeight = (terminals: number): number => HEAD + FOOT + PITCH * terminals;

/** Right first, the rest under the amplifier, both columns as even as can be. Two drivers still stand together. */
function driversOnTheRight(heights: readonly number[], amplifierHeight: number): number {
  let best = heights.length;
  let bestHeight = Infinity;
  for (let count = Math.min(2, heights.length); count <= heights.length; count += 1) {
    const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b + GAP, 0);
    const height = Math.max(sum(heights.slice(0, count)), amplifierHeight + sum(heights.slice(count)));
    if (height <= bestHeight) [best, bestHeight] = [count, height];
  }
  return best;
}

interface End {
  side: Side;
  y: number;
}

interface FannedWire {
  from: End;
  to: End;
}

/** Where each wire meets its two terminals: the one that leads further up leaves higher. */
function fannedEnds(joins: readonly Join[], terminals: ReadonlyMap<Terminal, TerminalPlace>): FannedWire[] {
  const offsets = new Map<string, number>();
  for (const [terminal, place] of terminals) {
    const own = joins
      .map((join, i) => ({ i, other: join[0] === terminal ? join[1] : join[1] === terminal ? join[0] : undefined }))
      .filter(({ other }) => other !== undefined)
      .map(({ i, other }) => ({ i, towards: (terminals.get(other!)?.y ?? 0) - place.y }))
      .sort((a, b) => a.towards - b.towards);
    const step = own.length > 1 ? (2 * FAN) / (own.length - 1) : 0;
    own.forEach(({ i }, rank) => offsets.set(`${i} ${terminal}`, own.length > 1 ? -FAN + rank * step : 0));
  }
  return joins.map((join, i) => {
    const [from, to] = join.map((terminal): End => {
      const { side, y } = terminals.get(terminal) ?? { side: 'left' as const, y: 0 };
      return { side, y: y + (offsets.get(`${i} ${terminal}`) ?? 0) };
    }) as [End, End];
    return { from, to };
  });
}

/** A vertical track for each wire, no two overlapping on one: wires of one side near that side, short ones outermost. */
function assignTracks(wires: readonly FannedWire[]): { tracks: number[]; count: number } {
  const zones: Record<'left' | 'across' | 'right', [number, number][][]> = { left: [], across: [], right: [] };
  const places = wires.map(() => ({ zone: 'left', track: 0 }));
  const order = wires
    .map(({ from, to }, i) => ({ i, low: Math.min(from.y, to.y), high: Math.max(from.y, to.y), from, to }))
    .sort((a, b) => a.high - a.low - (b.high - b.low));
  for (const { i, low, high, from, to } of order) {
    const zone = from.side === to.side ? from.side : 'across';
    // Room for the number on the wire, which stands in the middle of its track.
    const [top, bottom] = [Math.min(low, (low + high) / 2 - 12), Math.max(high, (low + high) / 2 + 12)];
    const free = zones[zone].findIndex((track) => track.every(([a, b]) => bottom < a - 2 || top > b + 2));
    const track = free === -1 ? zones[zone].push([]) - 1 : free;
    zones[zone][track]!.push([top, bottom]);
    places[i] = { zone, track };
  }
  const [left, across, right] = [zones.left.length, zones.across.length, zones.right.length];
  const count = left + across + right;
  const tracks = places.map(({ zone, track }) => (zone === 'left' ? track : zone === 'across' ? left + track : count - 1 - track));
  return { tracks, count };
}

/** Along, down the track, along: with round corners. */
function wirePath(x1: number, y1: number, x: number, x2: number, y2: number): string {
  const radius = Math.min(8, Math.abs(y2 - y1) / 2);
  if (radius < 0.5) return `M${x1} ${y1}H${x2}`;
  const down = Math.sign(y2 - y1);
  const into = Math.sign(x - x1);
  const out = Math.sign(x2 - x);
  return `M${x1} ${y1}H${x - into * radius}Q${x} ${y1} ${x} ${y1 + down * radius}V${y2 - down * radius}Q${x} ${y2} ${x + out * radius} ${y2}H${x2}`;
}

/** The terminal above or below, or across at about the same height, for the arrow keys. */
export function neighbour(layout: WiringLayout, terminal: Terminal, key: string): Terminal | undefined {
  const here = layout.terminals.get(terminal);
  if (here === undefined) return undefined;
  const places = [...layout.terminals].map(([name, place]) => ({ name, ...place }));
  if (key === 'ArrowLeft' || key === 'ArrowRight') {
    const side = key === 'ArrowLeft' ? 'left' : 'right';
    if (here.side === side) return undefined;
    return places.filter((p) => p.side === side).sort((a, b) => Math.abs(a.y - here.y) - Math.abs(b.y - here.y))[0]?.name;
  }
  const down = key === 'ArrowDown' ? 1 : -1;
  return places
    .filter((p) => p.side === here.side && (p.y - here.y) * down > 0)
    .sort((a, b) => Math.abs(a.y - here.y) - Math.abs(b.y - here.y))[0]?.name;
}
