import { describe, expect, it } from 'vitest';
import { driverLetter, type DriverSpec } from './drivers.ts';
import { hookupPlans } from './hookupPlans.ts';
import { lowestLoad, planLoads, powersOf, type PlanAmplifier } from './planLoads.ts';
import { parseNetwork } from './network.ts';
import { whatToBuy } from './whatToBuy.ts';

const MONO: PlanAmplifier = {
  mode: 'mono',
  minimumMonoOhm: 1,
  ratings: [
    { mode: 'mono', loadOhm: 4, powerWatt: 250 },
    { mode: 'mono', loadOhm: 1, powerWatt: 600 },
  ],
};
const duals = (count: number, coilOhm: number, ratedPowerWatt: number): DriverSpec[] =>
  Array.from({ length: count }, (_, i) => ({ name: driverLetter(i), coils: 2, coilOhm, ratedPowerWatt }));

describe('planLoads', () => {
  it('says what each wiring makes, and what each driver and coil gets of it', () => {
    const { wirings } = planLoads({ drivers: duals(2, 4, 300), amplifier: MONO });
    expect(wirings.map(({ loadOhm, amplifierWatt, amplifierBasis }) => [loadOhm, amplifierWatt, amplifierBasis])).toEqual([
      [1, 600, 'rated'],
      [4, 250, 'rated'],
      [4, 250, 'rated'],
      // The voltage of 250 W into 4 ohm, into 16.
      [16, 62.5, 'estimated'],
    ]);
    expect(wirings[0]!.drivers).toMatchObject([
      { driver: 'A', powerWatt: 300, coilsWatt: [150, 150], ratedPart: 1 },
      { driver: 'B', powerWatt: 300 },
    ]);
    expect(wirings[0]!.tradeOff).toContain('most power');
    expect(wirings[1]!.tradeOff).toContain('damped 4 times');
    expect(wirings[1]!.levelAgainstBestDb).toBeCloseTo(10 * Math.log10(250 / 600), 9);
  });
  it('lets the drivers’ ratings set the limit, coil by coil', () => {
    const { wirings } = planLoads({ drivers: duals(1, 2, 100), amplifier: MONO });
    expect(wirings[0]).toMatchObject({ loadOhm: 1, amplifierWatt: 600, usableWatt: 100 });
    expect(wirings[0]!.tradeOff).toContain('more than its rating');
    // One coil of two carries half of the rating.
    expect(powersOf(parseNetwork('A1', new Set(['A1', 'A2'])), duals(1, 2, 100), MONO).usableWatt).toBe(50);
  });
  it('takes a series resistor’s part off the drivers', () => {
    const powers = powersOf(parseNetwork('A1|A2', new Set(['A1', 'A2'])), duals(1, 4, 1000), MONO, 2);
    expect(powers.amplifierWatt).toBe(250);
    expect(powers.drivers[0]!.powerWatt).toBeCloseTo(125, 9);
  });
  it('refuses a load below the minimum in words', () => {
    const low = planLoads({ drivers: duals(2, 2, 300), amplifier: MONO }).wirings[0]!;
    expect(low).toMatchObject({ loadOhm: 0.5, verdict: 'below-minimum', hookup: { verdict: 'below-minimum' } });
    expect(low.tradeOff).toContain('Too low');
  });
  it('counts half of a bridged load against the stereo minimum', () => {
    expect(lowestLoad({ mode: 'bridged', ratings: [], minimumStereoOhm: 2 })).toBe(4);
    expect(lowestLoad({ mode: 'bridged', ratings: [], minimumStereoOhm: 1, minimumBridgedOhm: 4 })).toBe(4);
    expect(lowestLoad({ mode: 'stereo', ratings: [] })).toBeUndefined();
  });
  it('answers a wished load with wirings, or with what to buy', () => {
    const wish = (wishedLoadOhm: number) => planLoads({ drivers: duals(1, 4, 300), amplifier: MONO, wishedLoadOhm }).wished!;
    expect(wish(2).networks).toEqual(['A1|A2']);
    const four = wish(4);
    expect(four.words).toContain('No wiring of these drivers gives 4');
    expect(four.words).toMatch(/2\sΩ and 8\sΩ/);
    expect(four.purchases.map(({ words }) => words)).toEqual(
      expect.arrayContaining(['one driver of two 2 Ω coils', 'one driver of two 8 Ω coils', 'one driver of one 4 Ω coil']),
    );
  });
  it('has nothing to buy for a load that no stock gives', () => {
    expect(whatToBuy(1.234, duals(1, 4, 100))).toEqual([]);
  });
});

describe('hookupPlans', () => {
  const LOADS = { frontOhm: 4, rearOhm: 4, subwooferOhm: 4, minimumStereoOhm: 2, minimumBridgedOhm: 4, minimumMonoOhm: 2 };

  it('knows the ways to use four channels', () => {
    const plans = hookupPlans({ ...LOADS, outputs: 4 });
    expect(plans.map(({ id, verdict }) => [id, verdict])).toEqual([
      ['four-channels', 'fits'],
      ['front-and-subwoofer', 'fits'],
      ['front-rear-and-subwoofer', 'fits'],
      ['two-bridged', 'fits'],
      ['four-on-two', 'fits'],
    ]);
    const parallel = plans[2]!;
    expect(parallel.outputs.map(({ loadOhm, mode }) => [loadOhm, mode])).toEqual([
      [2, 'stereo'],
      [2, 'stereo'],
      [4, 'bridged'],
    ]);
    expect(parallel.outputs[2]).toMatchObject({ terminals: 'B left + and B right −', seen: { perChannelOhm: 2 } });
    expect(parallel.lost.join(' ')).toContain('Fader');
    expect(parallel.manualMustAllow.join(' ')).toContain('Bridging');
  });
  it('halves a bridged load in the numbers, and refuses it where the half is too low', () => {
    const plan = hookupPlans({ ...LOADS, outputs: 2, subwooferOhm: 2 }).find(({ id }) => id === 'bridged')!;
    expect(plan.verdict).toBe('below-minimum');
    expect(plan.outputs[0]!.seen.note).toContain('2 ohm is 1 ohm for each channel');
  });
  it('says that two pairs of terminals are the same two points', () => {
    const [one, two] = hookupPlans({ ...LOADS, outputs: 1, terminalPairs: 2 });
    expect(one!.outputs[0]!.loadOhm).toBe(4);
    expect(two!.outputs[0]!.loadOhm).toBe(2);
    expect(two!.manualMustAllow.join(' ')).toContain('same two points');
    expect(two!.verdict).toBe('fits');
  });
});
