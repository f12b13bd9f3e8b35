import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sizeDoubt, USUAL_SIZES } from './sizeSense.ts';

describe('sizeDoubt', () => {
  it.each([
    [33.8, { atMost: 100 }, undefined],
    [338, { atMost: 100 }, { likely: 33.8 }],
    // 783 mV typed without its m, at an output that gives 2 V.
    [783, { atMost: 6 }, { likely: 0.783 }],
    [36, { atLeast: 1, atMost: 16 }, { likely: 3.6 }],
    [0.36, { atLeast: 1, atMost: 16 }, { likely: 3.6 }],
    [6.8, USUAL_SIZES.F, { likely: 6.8e-6 }],
    [5, {}, undefined],
    [0, { atLeast: 1 }, undefined],
    [50, { atLeast: 2, atMost: 3 }, {}],
  ])('%d within %j: %j', (value, likely, doubt) => {
    expect(sizeDoubt(value, likely)).toEqual(doubt);
  });
  it('offers the same digits within the bounds, or nothing', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-6, max: 1e6, noNaN: true }), fc.double({ min: 0.01, max: 100, noNaN: true }), (value, atLeast) => {
        const likely = { atLeast, atMost: 20 * atLeast };
        const doubt = sizeDoubt(value, likely);
        if (doubt?.likely === undefined) return;
        expect(doubt.likely).toBeGreaterThanOrEqual(likely.atLeast);
        expect(doubt.likely).toBeLessThanOrEqual(likely.atMost);
        const decades = Math.log10(doubt.likely / value);
        expect(Math.abs(decades - Math.round(decades))).toBeLessThan(1e-9);
      }),
      { seed: 4620 },
    );
  });
});
