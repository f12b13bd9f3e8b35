import { describe, expect, it } from 'vitest';
import { alignNeighbours, meanLossDb, type NeighbourSetting, type NeighbourTrial } from '@yield/core';
import { cabinOf, coneJumps, soundMeterDb } from './cabin.ts';
import { CAMPER_TRAILER, LIBRARY_BUS, PUPPET_VAN, SCHOOL_CAR } from './demo/demoChains.ts';
import { DEMO_IDS } from './demo/demoTunes.ts';

const DEMO_TUNES = [LIBRARY_BUS, SCHOOL_CAR, CAMPER_TRAILER, PUPPET_VAN].map((chain, i) => ({ id: DEMO_IDS[i]!, chain }));

describe('the made-up cabins', () => {
  it('have one door that is reversed, the same one every time, until its wires are swapped', () => {
    for (const { id, chain } of DEMO_TUNES) {
      const cabin = cabinOf(chain, id);
      expect(cabinOf(chain, id)).toEqual(cabin);
      const drivers = chain.channels.flatMap((channel) => channel.drivers);
      const inward = drivers.filter((driver) => coneJumps(cabin, driver.id, false) === 'in');
      expect(inward.length).toBe(cabin.reversedDriverId === undefined ? 0 : 1);
      for (const driver of inward) expect(coneJumps(cabin, driver.id, true)).toBe('out');
    }
  });
  it('have a subwoofer that is late, and that a tuner brings together by its levels', () => {
    const tones = [57, 80, 113].map((hertz) => ({ hertz, filterPhaseDeg: 360 }));
    for (const { id, chain } of DEMO_TUNES) {
      const cabin = cabinOf(chain, id);
      const shown = (part: 'level-lower' | 'level-upper' | 'level-both', setting: NeighbourSetting): number[] =>
        tones.map(({ hertz }) => soundMeterDb(cabin, { tones, cornerHz: 80 }, { part, hertz }, setting));
      let setting: NeighbourSetting = { delaySecond: 0, isReversed: false };
      const [lower, upper] = [shown('level-lower', setting), shown('level-upper', setting)];
      const known = tones.map((tone, i) => ({ ...tone, lowerDb: lower[i]!, upperDb: upper[i]! }));
      const trials: NeighbourTrial[] = [];
      for (let trial = 0; trial < 5; trial += 1) {
        trials.push({ setting, bothDb: shown('level-both', setting) });
        setting = alignNeighbours(known, trials, { stepSecond: 1 / 48_000 }).best;
      }
      expect(Math.max(...trials.map(({ bothDb }) => meanLossDb(known, bothDb)))).toBeGreaterThan(-0.6);
    }
  });
});
