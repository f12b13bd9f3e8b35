import { describe, expect, it } from 'vitest';
import { levelTrial } from './levelTrial.ts';

describe('a trial of recorded levels', () => {
  it('reads the full-scale figure with each of them, and says what that costs', () => {
    // 75 W into 4 ohm are 17.32 V; the figure to read is the same, the music behind it is not.
    const rows = levelTrial({ powerWatt: 75, loadOhm: 4 });
    expect(rows.map(({ toneLevelDbfs }) => toneLevelDbfs)).toEqual([0, -5, -10]);
    rows.forEach(({ settingVoltage }) => expect(settingVoltage).toBeCloseTo(Math.sqrt(300), 9));
    expect(rows.map(({ overlapDb }) => overlapDb)).toEqual([0, 5, 10]);
    expect(rows[0]).toMatchObject({ cutShare: 0, thdPercent: 0, powerAgainstCleanDb: 0 });
    // A sine of 5 dB over its rails is flat for 1 − 2/pi asin(10^(−5/20)) of each half-cycle: by hand.
    expect(rows[1]!.cutShare).toBeCloseTo(1 - (2 / Math.PI) * Math.asin(10 ** -0.25), 9);
    expect(rows[2]!.cutShare).toBeGreaterThan(rows[1]!.cutShare);
    // Never more than a square wave's twice the power.
    rows.forEach(({ powerAgainstCleanDb }) => expect(powerAgainstCleanDb).toBeLessThan(3.02));
  });
  it('uses up the headroom before anything is cut, and lowers the figure by what filters take', () => {
    const [clean, cut] = levelTrial({ powerWatt: 75, loadOhm: 4, headroomDb: 5, shiftDb: -6 }, [-5, -10]);
    expect(clean!.cutShare).toBe(0);
    expect(cut!.cutShare).toBeGreaterThan(0);
    expect(clean!.settingVoltage).toBeCloseTo(Math.sqrt(300) * 10 ** (-11 / 20), 9);
  });
});
