import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coilBounds } from './coilBounds.ts';
import type { LoadCoil } from './drivers.ts';
import { loadNetwork } from './loadNetwork.ts';
import { canonicalText, coilsIn, networkText, parseNetwork, turnedRound, type Network } from './network.ts';
import { readWiring } from './readWiring.ts';
import { networkOhm, solveNetwork } from './solveNetwork.ts';
import { joinsOf } from './wiring.ts';

const NAMES = new Set(['A1', 'A2', 'B1', 'B2']);

describe('parseNetwork', () => {
  it.each([
    ['A1', 'A1'],
    [' ( A1 + A2 ) | ( B1 + B2 ) ', '(A1+A2)|(B1+B2)'],
    ['((A1))', 'A1'],
    ['A1+(A2+(B1+B2))', 'A1+A2+B1+B2'],
    ['-A1|(- A2+B1)', '-A1|(-A2+B1)'],
  ])('reads %s', (text, written) => {
    expect(networkText(parseNetwork(text, NAMES))).toBe(written);
  });

  it.each([
    ['', 'is empty'],
    ['A1+', "wants a coil's name at its end"],
    ['(A1|A2', 'not closed'],
    ['A1|A2)', 'goes on'],
    ['A1+A2|B1', 'parentheses'],
    ['A1+|A2', "coil's name"],
    ['A1+C1', 'C1, which is not described'],
    ['A1|A1', 'A1 twice'],
    ['-(A1+A2)', 'before a coil'],
    ['A1 A2', 'goes on'],
  ])('refuses “%s”', (text, message) => {
    expect(() => parseNetwork(text, NAMES)).toThrow(message);
  });
});

// The loads that every tuner knows by heart; common practice, no source. Coils of 2 or 4 ohm in one to four drivers.
describe('the well-known table of loads', () => {
  const all = (kind: string, drivers: number, coils: number): string =>
    Array.from({ length: drivers }, (_, d) => Array.from({ length: coils }, (_, c) => `${'ABCD'[d]}${c + 1}`).join(kind)).join(kind);
  const within = (inner: string, outer: string, drivers: number, coils = 2): string =>
    Array.from({ length: drivers }, (_, d) => `(${Array.from({ length: coils }, (_, c) => `${'ABCD'[d]}${c + 1}`).join(inner)})`).join(
      outer,
    );

  it.each([
    // one driver
    [1, 1, 4, 'A1', 4],
    [1, 1, 2, 'A1', 2],
    [1, 2, 4, all('|', 1, 2), 2],
    [1, 2, 4, all('+', 1, 2), 8],
    [1, 2, 2, all('|', 1, 2), 1],
    [1, 2, 2, all('+', 1, 2), 4],
    // two drivers
    [2, 1, 4, all('|', 2, 1), 2],
    [2, 1, 4, all('+', 2, 1), 8],
    [2, 1, 2, all('|', 2, 1), 1],
    [2, 1, 2, all('+', 2, 1), 4],
    [2, 2, 4, all('|', 2, 2), 1],
    [2, 2, 4, within('+', '|', 2), 4],
    [2, 2, 4, within('|', '+', 2), 4],
    [2, 2, 4, all('+', 2, 2), 16],
    [2, 2, 2, all('|', 2, 2), 0.5],
    [2, 2, 2, within('+', '|', 2), 2],
    [2, 2, 2, within('|', '+', 2), 2],
    [2, 2, 2, all('+', 2, 2), 8],
    // three drivers
    [3, 1, 4, all('|', 3, 1), 4 / 3],
    [3, 1, 4, all('+', 3, 1), 12],
    [3, 1, 2, all('|', 3, 1), 2 / 3],
    [3, 1, 2, all('+', 3, 1), 6],
    [3, 2, 4, all('|', 3, 2), 2 / 3],
    [3, 2, 4, within('+', '|', 3), 8 / 3],
    [3, 2, 4, within('|', '+', 3), 6],
    [3, 2, 2, all('|', 3, 2), 1 / 3],
    [3, 2, 2, within('+', '|', 3), 4 / 3],
    [3, 2, 2, within('|', '+', 3), 3],
    [3, 2, 2, all('+', 3, 2), 12],
    // four drivers
    [4, 1, 4, all('|', 4, 1), 1],
    [4, 1, 4, '(A1+B1)|(C1+D1)', 4],
    [4, 1, 4, all('+', 4, 1), 16],
    [4, 2, 4, all('|', 4, 2), 0.5],
    [4, 2, 4, within('+', '|', 4), 2],
    [4, 2, 2, all('|', 4, 2), 0.25],
    [4, 2, 2, within('+', '|', 4), 1],
    [4, 2, 2, within('|', '+', 4), 4],
    [4, 2, 2, all('+', 4, 2), 16],
  ])('%i drivers of %i coils of %i ohm as %s: %f ohm', (drivers, coils, ohm, network, loadOhm) => {
    const described = Object.fromEntries(
      Array.from({ length: drivers }, (_, d) =>
        Array.from({ length: coils }, (_, c) => [`${'ABCD'[d]}${c + 1}`, { nominalOhm: ohm }]),
      ).flat(),
    ) as Record<string, { nominalOhm: number }>;
    const result = loadNetwork({ coils: described, network });
    expect(result.loadOhm).toBeCloseTo(loadOhm, 12);
    expect(result.balanced).toBe(true);
    expect(result.unused).toEqual([]);
  });
});

describe('loadNetwork', () => {
  const coils = { A1: { nominalOhm: 4, dcOhm: 3.4 }, A2: { nominalOhm: 4, dcOhm: 3.4 }, B1: { nominalOhm: 8 } };

  it('lists what is not connected, and says what it costs', () => {
    const { unused, notes } = loadNetwork({ coils, network: 'A1' });
    expect(unused).toEqual(['A2', 'B1']);
    expect(notes.join(' ')).toContain('its driver takes only the part of its rated power');
    expect(notes.join(' ')).toContain('B1 is not connected and plays nothing');
  });
  it('says which coils work against their own driver', () => {
    const { reversed, notes } = loadNetwork({ coils, network: 'A1|-A2' });
    expect(reversed).toEqual(['A2']);
    expect(notes.join(' ')).toContain('A2 works against A1 of the same driver');
  });
  it('says what a whole driver turned round does', () => {
    expect(loadNetwork({ coils, network: '(A1|A2)+-B1' }).notes.join(' ')).toContain('B1 is reversed: its driver moves against the others');
  });
  it('guesses a meter figure where none was measured, and says so', () => {
    const { dcOhm, notes } = loadNetwork({ coils, network: 'A1+B1' });
    expect(dcOhm).toBeCloseTo(3.4 + 6.4, 12);
    expect(notes.join(' ')).toContain('No DC resistance was given for B1');
  });
  it('takes the resistor’s part off the coils', () => {
    const result = loadNetwork({ coils, network: 'A1|A2', seriesResistorOhm: 2, seriesResistorRatedWatt: 20, voltageRms: 8 });
    expect(result).toMatchObject({ loadOhm: 4, totalPowerWatt: 16, resistor: { powerShare: 0.5, powerWatt: 8, overRating: false } });
    expect(result.coils.A1!.powerWatt).toBeCloseTo(4, 12);
    expect(result.levelChangeDb).toBeCloseTo(-6.0206, 4);
  });
  it('points at every coil that is not above 0', () => {
    expect(() => loadNetwork({ coils: { A1: { nominalOhm: 0 } }, network: 'A1' })).toThrow('coil A1 must be above 0 ohm');
  });
});

/** Any network over one to twelve coils, some of them reversed. */
const networks = fc.tuple(fc.integer({ min: 1, max: 12 }), fc.infiniteStream(fc.nat({ max: 1000 }))).map(([count, stream]) => {
  const draw = (most: number): number => (stream.next().value as number) % most;
  const coils: LoadCoil[] = Array.from({ length: count }, (_, i) => ({
    name: `${String.fromCharCode(65 + Math.floor(i / 2))}${(i % 2) + 1}`,
    driver: String.fromCharCode(65 + Math.floor(i / 2)),
    nominalOhm: 1 + draw(80) / 10,
  }));
  const grow = (own: LoadCoil[]): Network => {
    if (own.length === 1) return { kind: 'coil', coil: own[0]!.name, reversed: draw(4) === 0 };
    const cut = 1 + draw(own.length - 1);
    return { kind: draw(2) === 0 ? 'series' : 'parallel', parts: [grow(own.slice(0, cut)), grow(own.slice(cut))] };
  };
  return { coils, network: grow(coils) };
});
const ohmOf =
  (coils: readonly LoadCoil[]) =>
  (name: string): number =>
    coils.find((coil) => coil.name === name)!.nominalOhm;

describe('any network', () => {
  const check = (test: (coils: LoadCoil[], network: Network) => void): void =>
    fc.assert(
      fc.property(networks, ({ coils, network }) => test(coils, network)),
      { seed: 4620, numRuns: 300 },
    );

  it('lies between all in parallel and all in series, and its shares sum to 1', () => {
    check((coils, network) => {
      const { ohm, shares } = solveNetwork(network, ohmOf(coils));
      const { lowestOhm, highestOhm } = coilBounds(coils.map(({ nominalOhm }) => nominalOhm));
      expect(ohm).toBeGreaterThanOrEqual(lowestOhm * (1 - 1e-12));
      expect(ohm).toBeLessThanOrEqual(highestOhm * (1 + 1e-12));
      expect([...shares.values()].reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12);
    });
  });
  it('presents the same load whichever coils are reversed', () => {
    check((coils, network) => {
      expect(networkOhm(turnedRound(network), ohmOf(coils))).toBeCloseTo(networkOhm(network, ohmOf(coils)), 12);
    });
  });
  it('is written and read back the same', () => {
    check((coils, network) => {
      const again = parseNetwork(networkText(network), new Set(coils.map(({ name }) => name)));
      expect(canonicalText(again)).toBe(canonicalText(network));
      expect(coilsIn(again)).toHaveLength(coils.length);
    });
  });
  it.each([1, 2] as const)('is drawn with %i pair of terminals and read back to the same network, load and shares', (pairs) => {
    check((coils, network) => {
      const reading = readWiring(coils, joinsOf(network, pairs));
      const { ohm, shares } = solveNetwork(network, ohmOf(coils));
      expect(canonicalText(reading.network!)).toBe(canonicalText(network));
      expect(reading.loadOhm).toBeCloseTo(ohm, 9);
      for (const [name, share] of shares) expect(reading.shares.get(name)).toBeCloseTo(share, 9);
      for (const { coil, reversed } of coilsIn(network)) expect(reading.states.get(coil)).toBe(reversed ? 'reversed' : 'works');
    });
  });
});
