import { describe, expect, it } from 'vitest';
import { oddStep, type ReadStep } from './oddStep.ts';

const row = (...volts: number[]): ReadStep[] => volts.map((voltageRms, i) => ({ step: 20 + i, voltageRms, isRepeated: false }));

describe('a figure that cannot stand in its row', () => {
  it.each([
    ['the point slipped between its neighbours', row(1.64, 1.83, 19.5, 1.95, 1.98), { step: 22, voltageRms: 19.5, likelyVolt: 1.95 }],
    ['too low between its neighbours', row(1.2, 1.4, 0.16, 1.8), { step: 22, voltageRms: 0.16, likelyVolt: 1.6 }],
    ['a fall inside a row that goes on', row(1, 1.2, 0.8, 1.6, 1.9), { step: 22, voltageRms: 0.8 }],
    ['a rise that the next step takes back', row(1, 1.2, 2.5, 1.5, 1.7), { step: 22, voltageRms: 2.5 }],
    ['far above what the row leads to, at its end', row(1, 1.2, 1.4, 14), { step: 23, voltageRms: 14, likelyVolt: 1.4 }],
    ['falling while the volume rises', row(1, 1.2, 1.4, 1), { step: 23, voltageRms: 1 }],
  ])('%s', (_, steps, odd) => {
    expect(oddStep(steps, 'preamp-front', 2)).toMatchObject(odd);
  });
  it('is none in an even row, in one that bends at its ceiling, nor where it was read twice alike', () => {
    expect(oddStep(row(1, 1.26, 1.58, 1.99, 2.1, 2.12), 'preamp-front', 2)).toBeUndefined();
    expect(oddStep(row(0.002, 0.02, 0.2, 0.6), 'preamp-front')).toBeUndefined();
    const twice = row(1, 1.2, 4.9, 5.5).map((each) => ({ ...each, isRepeated: each.voltageRms === 4.9 }));
    expect(oddStep(twice, 'preamp-front')).toBeUndefined();
  });
  it('is one beyond what an output gives, read twice or not: a whole column ten times too high', () => {
    const column = row(10, 12, 15, 19.5).map((each) => ({ ...each, isRepeated: true }));
    expect(oddStep(column, 'preamp-front', 2)).toMatchObject({ step: 22, isRepeated: true });
    expect(oddStep(row(5, 6, 54), 'speakers')).toMatchObject({ voltageRms: 54 });
  });
});
