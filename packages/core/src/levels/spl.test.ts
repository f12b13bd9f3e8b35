import { describe, expect, it } from 'vitest';
import { spl, type SplInput } from './spl.ts';

// Worked by hand from the definitions: 10 log10 of power and of drivers, 20 log10 of distance; 2.83 V into 4 ohm is 2 W.
describe('spl', () => {
  const base: SplInput = { sensitivityDb: 90, sensitivityAt: '1W', powerWatt: 1 };
  it.each<[string, SplInput, number]>([
    ['one watt at one metre', base, 90],
    ['a hundred watts', { ...base, powerWatt: 100 }, 110],
    ['twice the power', { ...base, powerWatt: 2 }, 93.0103],
    ['two drivers sharing it', { ...base, drivers: 2 }, 93.0103],
    ['twice the distance', { ...base, distanceMetre: 2 }, 83.9794],
    ['2.83 V into 4 ohm at 2.83 V', { sensitivityDb: 90, sensitivityAt: '2.83V', nominalOhm: 4, voltageRms: 2.83 }, 90],
    [
      '2.83 V into 2 ohm at 1 W',
      { sensitivityDb: 90, sensitivityAt: '2.83V', nominalOhm: 2, powerWatt: 1 },
      90 - 10 * Math.log10(2.83 ** 2 / 2),
    ],
    [
      'two drivers in parallel at one voltage',
      { sensitivityDb: 90, sensitivityAt: '2.83V', nominalOhm: 8, voltageRms: 2.83, drivers: 2 },
      96.0206,
    ],
  ])('%s', (_, input, splDb) => {
    expect(spl(input).splDb).toBeCloseTo(splDb, 4);
  });
  it.each<[Partial<SplInput>, string]>([
    [{ voltageRms: 3 }, 'not both'],
    [{ sensitivityAt: '2.83V' }, 'nominal impedance is missing'],
    [{ distanceMetre: 0 }, 'distance must be above 0 m'],
    [{ drivers: 0 }, 'number of drivers must be at least 1'],
  ])('refuses %j', (change, message) => {
    expect(() => spl({ ...base, ...change })).toThrow(message);
  });
  it('wants a power', () => {
    expect(() => spl({ sensitivityDb: 90, sensitivityAt: '1W' })).toThrow('power is missing');
  });
});
