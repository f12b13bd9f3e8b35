// What filters and an equaliser do in a whole system.
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../job/chain.ts';
import { degreesOf } from '../numerics/complex.ts';
import { reachAt } from './reach.ts';
import { groupAt, groupDelay, driverGroupsOf } from './driverGroups.ts';

const BAND = { kind: 'peak', frequencyHz: 100, gainDb: 6, q: 2 } as const;
const chainOf = (changes: Partial<Channel>): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Mono', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }] }],
  channels: [
    {
      id: 'bass',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'A',
      band: 'bass',
      loadOhm: 4,
      drivers: [{ id: 'w', name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 200, role: 'subwoofer' }],
      ...changes,
    },
  ],
});
const groupOf = (chain: Chain) => driverGroupsOf(chain)[0]!;

describe('what reaches a driver through a band that lifts', () => {
  // Worked by hand: 100 W into 4 ohm is 20 V at full scale. A band of +6 dB has the gain set 6 dB lower: 20 V at the band, 10 V elsewhere.
  // Shuts out 39.9 V and 398 W, the band counted on top of a gain that was not set down for it.
  it('is the full voltage at the band, and half of it elsewhere', () => {
    const chain = chainOf({ equaliser: [BAND] });
    const at = (hertz: number) => reachAt(chain, DEFAULT_RULES, groupOf(chain), hertz);
    expect(at(100).volt).toBeCloseTo(20, 1);
    expect(at(100).watt).toBeCloseTo(100, 0);
    expect(at(2000).volt).toBeCloseTo(20 * 10 ** (-6 / 20), 1);
  });
  it('is the full voltage everywhere without one, and with one that only cuts', () => {
    for (const equaliser of [[], [{ ...BAND, gainDb: -6 }]]) {
      const chain = chainOf({ equaliser });
      expect(reachAt(chain, DEFAULT_RULES, groupOf(chain), 3000).volt).toBeCloseTo(20, 1);
    }
  });
});

describe('group delay', () => {
  // A slow, obvious second way: the slope of the phase, from a step a hundred times as wide.
  it.each([40, 80, 100, 125, 250])('counts the equaliser in, at %d Hz', (hertz) => {
    const chain = chainOf({
      equaliser: [BAND],
      filters: [{ id: 'f', place: 'processor', kind: 'lowpass', family: 'butterworth', order: 2, cornerHz: 200 }],
    });
    const group = groupOf(chain);
    const step = 1e-2 * hertz;
    const turned = degreesOf(groupAt(group, hertz + step)) - degreesOf(groupAt(group, hertz - step));
    const slow = -(turned - 360 * Math.round(turned / 360)) / 360 / (2 * step);
    expect(Math.abs(groupDelay(group, hertz) - slow)).toBeLessThan(0.02 * Math.abs(slow) + 2e-5);
  });
  it('of a band alone is not none', () => {
    const chain = chainOf({ equaliser: [BAND] });
    expect(Math.abs(groupDelay(groupOf(chain), 100))).toBeGreaterThan(1e-3);
  });
});
