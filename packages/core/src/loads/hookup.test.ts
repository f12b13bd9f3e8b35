import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { coilBounds } from './coilBounds.ts';
import { hookup, type HookupInput } from './hookup.ts';

describe('hookup', () => {
  it.each([
    ['just at the minimum', { mode: 'stereo', loadOhm: 2, minimumStereoOhm: 2 }, 2, 'fits'],
    ['below it', { mode: 'mono', loadOhm: 0.5, minimumMonoOhm: 1 }, 0.5, 'below-minimum'],
    ['nothing to hold it against', { mode: 'stereo', loadOhm: 4, minimumMonoOhm: 1 }, 4, 'unknown'],
    ['bridged, both minima hold', { mode: 'bridged', loadOhm: 4, minimumBridgedOhm: 4, minimumStereoOhm: 2 }, 2, 'fits'],
    // Shuts out judging a bridged load by the stereo minimum as it stands: 3 ohm is above 2, but each channel sees 1.5.
    ['bridged, its half too low for a channel', { mode: 'bridged', loadOhm: 3, minimumStereoOhm: 2 }, 1.5, 'below-minimum'],
    ['bridged, the stricter counts', { mode: 'bridged', loadOhm: 4, minimumBridgedOhm: 6, minimumStereoOhm: 2 }, 2, 'below-minimum'],
    ['bridged, only one minimum known', { mode: 'bridged', loadOhm: 8, minimumBridgedOhm: 4 }, 4, 'fits'],
    ['bridged, none known', { mode: 'bridged', loadOhm: 8 }, 4, 'unknown'],
  ] as [string, HookupInput, number, string][])('%s', (_, input, perChannelOhm, verdict) => {
    const result = hookup(input);
    expect(result).toMatchObject({ perChannelOhm, verdict });
    expect(result.note.length).toBeGreaterThan(20);
  });

  it('says the numbers when a bridged load halves', () => {
    expect(hookup({ mode: 'bridged', loadOhm: 4, minimumBridgedOhm: 4 }).note).toContain('4 ohm is 2 ohm for each channel');
  });

  it('refuses a load of 0 ohm', () => {
    expect(() => hookup({ mode: 'stereo', loadOhm: 0 })).toThrow('load must be above 0 ohm');
  });
});

describe('coilBounds', () => {
  it('lies between the smallest coil over their number and the sum', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.5, max: 16, noNaN: true }), { minLength: 1, maxLength: 16 }), (coils) => {
        const { lowestOhm, highestOhm } = coilBounds(coils);
        expect(lowestOhm).toBeLessThanOrEqual(Math.min(...coils) * (1 + 1e-12));
        expect(lowestOhm).toBeGreaterThanOrEqual((Math.min(...coils) / coils.length) * (1 - 1e-12));
        expect(highestOhm).toBeCloseTo(
          coils.reduce((a, b) => a + b, 0),
          9,
        );
      }),
      { seed: 4620 },
    );
  });
});
