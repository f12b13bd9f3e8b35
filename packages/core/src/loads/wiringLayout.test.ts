// What has to hold for every drawing, whatever the wiring: nothing lies on top of anything else, and every wire ends where it says.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coilsOf, driverLetter, type DriverSpec } from './drivers.ts';
import { loadOptions } from './loadOptions.ts';
import { parseNetwork } from './network.ts';
import { joinsOf, type Join } from './wiring.ts';
import { neighbour, wiringLayout, type WiringLayout } from './wiringLayout.ts';

const alike = (count: number, coils: 1 | 2 | 4): DriverSpec[] =>
  Array.from({ length: count }, (_, i) => ({ name: driverLetter(i), coils, coilOhm: 4 }));
const drawn = (drivers: DriverSpec[], network: string, pairs: 1 | 2 = 1): { layout: WiringLayout; joins: Join[] } => {
  const coils = coilsOf(drivers);
  const joins = joinsOf(parseNetwork(network, new Set(coils.map(({ name }) => name))), pairs);
  return { layout: wiringLayout(coils, joins, pairs), joins };
};

interface Segment {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
}

/** The straight pieces of a path; its round corners are left to themselves. */
function segments(path: string): Segment[] {
  const found: Segment[] = [];
  let [x, y] = [0, 0];
  for (const [, command, rest] of path.matchAll(/([MHVQ])([^MHVQ]*)/g)) {
    const numbers = rest!.trim().split(/\s+/).map(Number);
    const [nextX, nextY] = command === 'H' ? [numbers[0]!, y] : command === 'V' ? [x, numbers[0]!] : [numbers.at(-2)!, numbers.at(-1)!];
    if (command === 'H' || command === 'V')
      found.push({ x1: Math.min(x, nextX), y1: Math.min(y, nextY), x2: Math.max(x, nextX), y2: Math.max(y, nextY) });
    [x, y] = [nextX, nextY];
  }
  return found;
}

const vertical = ({ x1, x2 }: Segment): boolean => x1 === x2;

/** Two pieces in the same direction that share more than a point. */
function onTop(a: Segment, b: Segment): boolean {
  if (vertical(a) !== vertical(b)) return false;
  return vertical(a)
    ? Math.abs(a.x1 - b.x1) < 2 && Math.min(a.y2, b.y2) - Math.max(a.y1, b.y1) > 0.5
    : Math.abs(a.y1 - b.y1) < 2 && Math.min(a.x2, b.x2) - Math.max(a.x1, b.x1) > 0.5;
}

function overlaps({ wires }: WiringLayout): string[] {
  const pieces = wires.map(({ path }) => segments(path));
  return pieces.flatMap((own, i) =>
    pieces.slice(i + 1).flatMap((other, k) => (own.some((a) => other.some((b) => onTop(a, b))) ? [`${i + 1} on ${i + k + 2}`] : [])),
  );
}

describe('the layout of a wiring', () => {
  it('draws no wire on top of another, for any drivers and any sensible wiring of them', () => {
    const kinds = fc.record({
      count: fc.integer({ min: 1, max: 8 }),
      coils: fc.constantFrom<1 | 2 | 4>(1, 2, 4),
      pick: fc.nat({ max: 100 }),
      pairs: fc.constantFrom<1 | 2>(1, 2),
    });
    fc.assert(
      fc.property(kinds, ({ count, coils, pick, pairs }) => {
        const drivers = alike(count, coils);
        const { options } = loadOptions({ drivers });
        const { layout } = drawn(drivers, options[pick % options.length]!.network, pairs);
        expect(overlaps(layout)).toEqual([]);
      }),
      { seed: 4620, numRuns: 150 },
    );
  });

  it('draws no wire on top of another, for any wires that a person may join', () => {
    const terminals = ['amp+', 'amp-', ...coilsOf(alike(3, 2)).flatMap(({ name }) => [`${name}+`, `${name}-`])];
    const wires = fc.uniqueArray(fc.tuple(fc.constantFrom(...terminals), fc.constantFrom(...terminals)), {
      maxLength: 9,
      selector: (pair) => [...pair].sort().join(' '),
    });
    fc.assert(
      fc.property(wires, (pairs) => {
        const joins = pairs.filter(([a, b]) => a !== b);
        // At most three wires fit side by side at one terminal; more is no wiring but a bundle.
        const busiest = Math.max(0, ...terminals.map((terminal) => joins.filter((join) => join.includes(terminal)).length));
        fc.pre(busiest <= 3);
        expect(overlaps(wiringLayout(coilsOf(alike(3, 2)), joins, 1))).toEqual([]);
      }),
      { seed: 4620, numRuns: 150 },
    );
  });

  it('starts and ends every wire at its terminals', () => {
    const { layout, joins } = drawn(alike(4, 2), '(A1+A2)|(B1+B2)|(C1+C2)|(D1+D2)');
    layout.wires.forEach(({ path }, i) => {
      const ends = joins[i]!.map((terminal) => layout.terminals.get(terminal)!);
      const [, startX, startY] = /^M([-\d.]+) ([-\d.]+)/.exec(path)!;
      expect(Number(startX)).toBe(ends[0]!.x);
      expect(Math.abs(Number(startY) - ends[0]!.y)).toBeLessThanOrEqual(7);
      expect(path.endsWith(`H${ends[1]!.x}`)).toBe(true);
    });
  });

  it('keeps everything inside, and blocks and numbers apart', () => {
    for (const count of [1, 2, 3, 5, 8]) {
      const { layout } = drawn(alike(count, 4), loadOptions({ drivers: alike(count, 4) }).options[0]!.network);
      for (const { x, y, width, height } of layout.blocks) {
        expect(x).toBeGreaterThanOrEqual(0);
        expect(x + width).toBeLessThanOrEqual(layout.width);
        expect(y + height).toBeLessThanOrEqual(layout.height);
      }
      for (const side of ['left', 'right']) {
        const column = layout.blocks.filter((block) => block.side === side);
        column.slice(1).forEach(({ y }, i) => expect(y).toBeGreaterThanOrEqual(column[i]!.y + column[i]!.height));
      }
      const badges = layout.wires.map(({ badge }) => badge);
      for (const [i, a] of badges.entries()) {
        for (const b of badges.slice(i + 1)) expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThan(18);
      }
    }
  });

  it('stands the drivers in two even columns, the amplifier first', () => {
    const sides = (count: number): string =>
      drawn(alike(count, 2), loadOptions({ drivers: alike(count, 2) }).options[0]!.network)
        .layout.blocks.map(({ side, driver }) => `${side}:${driver}`)
        .join(' ');
    expect(sides(1)).toBe('left: right:A');
    expect(sides(2)).toBe('left: right:A right:B');
    expect(sides(8)).toBe('left: left:E left:F left:G left:H right:A right:B right:C right:D');
  });
});

describe('the arrow keys in a drawing', () => {
  const { layout } = drawn(alike(2, 2), 'A1|A2|B1|B2');
  it.each([
    ['A1+', 'ArrowDown', 'A1-'],
    ['A2-', 'ArrowDown', 'B1+'],
    ['B1+', 'ArrowUp', 'A2-'],
    ['amp+', 'ArrowRight', 'A1+'],
    ['A1-', 'ArrowLeft', 'amp-'],
  ])('from %s with %s lead to %s', (from, key, to) => {
    expect(neighbour(layout, from, key)).toBe(to);
  });
  it.each([
    ['A1+', 'ArrowRight'],
    ['amp+', 'ArrowUp'],
    ['gone', 'ArrowDown'],
  ])('from %s with %s lead nowhere', (from, key) => {
    expect(neighbour(layout, from, key)).toBeUndefined();
  });
});
