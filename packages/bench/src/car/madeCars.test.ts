import { describe, expect, it } from 'vitest';
import { seededRandom } from '@yield/core';
import { factoryDbAt, recordedSweep } from '../factoryUnit.ts';
import { Car } from './car.ts';
import { truthOf } from './carTruth.ts';
import { rmsOf } from './cycle.ts';
import { FAMILIES, madeCars } from './madeCars.ts';

const CARS = madeCars(2 * FAMILIES.length, 'test');

describe('made-up vehicles', () => {
  it('are the same for one seed, and each family is there both as it should be and given a fault', () => {
    expect(JSON.stringify(madeCars(2 * FAMILIES.length, 'test'))).toBe(JSON.stringify(CARS));
    expect(JSON.stringify(madeCars(1, 'other'))).not.toBe(JSON.stringify(CARS.slice(0, 1)));
    for (const family of FAMILIES) {
      const own = CARS.filter((car) => car.family === family);
      expect(own).toHaveLength(2);
      expect(own.filter(({ fault }) => fault === undefined).length, family).toBeGreaterThanOrEqual(1);
    }
  });

  it('with a gain at its lowest are clean and below the best, and the source’s own amplifier is at it at its highest clean step', () => {
    const sub = CARS.find(({ family, fault }) => family === 'one sub' && fault === undefined)!;
    const car = new Car(sub.real);
    car.gains.set('bass', 0);
    const low = truthOf(car, sub.chain, sub.chain.channels[0]!, sub.settings.rules);
    expect(low.missDb).toBeLessThan(-6);
    const own = CARS.find(({ family, fault }) => family === 'own amplifier alone' && fault === undefined)!;
    const at = (workingVolume: number) => {
      const chain = { ...own.chain, source: { ...own.chain.source, workingVolume } };
      return truthOf(new Car(own.real), chain, chain.channels[0]!, own.settings.rules);
    };
    const steps = Array.from({ length: 12 }, (_, i) => at(own.chain.source.volumeSteps - i));
    const best = steps.find(({ thdPercent }) => thdPercent <= own.settings.rules.limitThdPercent);
    expect(best?.missDb).toBeCloseTo(0, 1);
  });

  it('two amplifiers at one driver count as a pair: the weaker one says how far', () => {
    const { chain, real, settings } = CARS.find(({ family }) => family === 'two amplifiers at one sub')!;
    const car = new Car(real);
    const [first, second] = chain.channels.map((channel) => {
      const level = rmsOf(
        car.terminals(chain, channel, { volume: chain.source.workingVolume, toneHz: settings.rules.bassToneHz, toneLevelDbfs: 0 }, true),
      );
      return 20 * Math.log10(level) - truthOf(car, chain, channel, settings.rules).missDb;
    });
    expect(first).toBeCloseTo(second!, 6);
  });
});

describe('a factory unit', () => {
  it('does to a steady tone what its recorded sweep shows, bass held back from its step on', () => {
    expect(factoryDbAt(40, 10, 16)).toBeCloseTo(0, 1);
    expect(factoryDbAt(30, 22, 16)).toBeLessThan(-5);
    expect(factoryDbAt(2500, 22, 16)).toBeCloseTo(4, 1);
    const sweep = { fromHertz: 20, toHertz: 20_000, seconds: 1 };
    const at = (holdsBackFrom: number): number => {
      const samples = recordedSweep(sweep, 44_100, 22, seededRandom('x'), holdsBackFrom);
      // The first tenth of a second after the lead holds the lowest tones.
      return Math.hypot(...samples.subarray(17_640, 22_050));
    };
    expect(20 * Math.log10(at(16) / at(Infinity))).toBeLessThan(-4);
  });
});
