import { describe, expect, it } from 'vitest';
import { amplifierPower, type PowerRating } from './amplifierPower.ts';

const PLATE: PowerRating[] = [
  { mode: 'stereo', loadOhm: 4, powerWatt: 60 },
  { mode: 'stereo', loadOhm: 2, powerWatt: 90 },
  { mode: 'bridged', loadOhm: 4, powerWatt: 180 },
];

describe('amplifierPower', () => {
  it.each([
    ['stereo', 4, { kind: 'rated', powerWatt: 60 }],
    ['stereo', 2, { kind: 'rated', powerWatt: 90 }],
    ['bridged', 4, { kind: 'rated', powerWatt: 180 }],
    // The voltage of 60 W into 4 ohm is held into 8: half of the power. Not of 90 W into 2, which would be 22.5.
    ['stereo', 8, { kind: 'estimated', powerWatt: 30 }],
    ['bridged', 8, { kind: 'estimated', powerWatt: 90 }],
    // Below the lowest load of the plate nothing is assumed.
    ['stereo', 1.33, { kind: 'unknown' }],
    ['bridged', 2, { kind: 'unknown' }],
    ['mono', 4, { kind: 'unknown' }],
  ] as const)('%s into %f ohm', (mode, loadOhm, power) => {
    expect(amplifierPower(PLATE, mode, loadOhm)).toEqual(power);
  });
  it('holds both rows between two loads of the plate', () => {
    // 15.49 V into 4 and 13.42 V into 2: a source of 18.3 V behind 0.73 ohm gives 14.73 V into 3.
    const power = amplifierPower(PLATE, 'stereo', 3);
    expect(power.kind).toBe('estimated');
    expect(power.kind === 'unknown' ? 0 : power.powerWatt).toBeCloseTo(72.3, 1);
  });
  it('takes 1.33 ohm for four thirds', () => {
    expect(amplifierPower([{ mode: 'mono', loadOhm: 1.33, powerWatt: 400 }], 'mono', 4 / 3).kind).toBe('rated');
  });
});
