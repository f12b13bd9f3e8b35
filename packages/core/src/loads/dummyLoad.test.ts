import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dummyHeat } from './dummyLoad.ts';

describe('the heat of a dummy load', () => {
  it.each([
    [90, 100, { kind: 'steady' }],
    [100, 100, { kind: 'steady' }],
    [200, 100, { kind: 'bursts', burstSecond: 5, pauseSecond: 5 }],
    [300, 100, { kind: 'bursts', burstSecond: 3, pauseSecond: 6 }],
    [1000, 100, { kind: 'bursts', burstSecond: 2, pauseSecond: 18 }],
    [1100, 100, { kind: 'too-small' }],
  ])('%d W into one of %d W', (powerWatt, ratedWatt, heat) => {
    expect(dummyHeat({ powerWatt, ratedWatt })).toEqual(heat);
  });

  it('never gets more than its rating on average', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 5000, noNaN: true }), fc.double({ min: 1, max: 1000, noNaN: true }), (powerWatt, ratedWatt) => {
        const heat = dummyHeat({ powerWatt, ratedWatt });
        const mean = heat.kind === 'bursts' ? (powerWatt * heat.burstSecond) / (heat.burstSecond + heat.pauseSecond) : powerWatt;
        expect(heat.kind === 'too-small' || mean <= ratedWatt * (1 + 1e-9)).toBe(true);
      }),
    );
  });

  it('wants figures that can be', () => {
    expect(() => dummyHeat({ powerWatt: -1, ratedWatt: 100 })).toThrow();
    expect(() => dummyHeat({ powerWatt: 10, ratedWatt: 0 })).toThrow();
  });
});
