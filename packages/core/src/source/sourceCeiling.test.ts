import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sourceCeiling, type VolumeStep } from './sourceCeiling.ts';

/** Even growth up to a clean step, then held back by so many decibels a step. */
function table(first: number, clean: number, last: number, growthDb: number, heldDb: number): VolumeStep[] {
  const steps: VolumeStep[] = [];
  let db = 0;
  for (let step = first; step <= last; step += 1) {
    if (step > first) db += step > clean ? growthDb - heldDb : growthDb;
    steps.push({ step, voltageRms: 0.3 * 10 ** (db / 20) });
  }
  return steps;
}
const thd = (rows: [number, number, number?][]): VolumeStep[] =>
  rows.map(([step, voltageRms, thdPercent]) => ({ step, voltageRms, ...(thdPercent === undefined ? {} : { thdPercent }) }));

describe('sourceCeiling', () => {
  it('goes by distortion where there are figures', () => {
    const steps = thd([
      [20, 1, 0.1],
      [21, 1.2, 0.2],
      [22, 1.4, 1.4],
      [23, 1.5, 9],
    ]);
    expect(sourceCeiling({ steps })).toEqual({
      maxCleanStep: 21,
      firstDirtyStep: 22,
      method: 'distortion',
      voltageAtCeiling: 1.2,
      warnings: [],
    });
    expect(sourceCeiling({ steps, limitThdPercent: 5 })).toMatchObject({ maxCleanStep: 22, firstDirtyStep: 23 });
  });
  it('does not take a figure that was read twice for a ceiling: above it the voltage goes on growing', () => {
    const steps = thd([
      [20, 0.354],
      [21, 0.421],
      [22, 0.421],
      [23, 0.594],
      [24, 0.707],
    ]);
    const { contradictsAt, warnings } = sourceCeiling({ steps });
    expect(contradictsAt).toBe(22);
    expect(warnings.join(' ')).toContain('keeps rising above');
    // Seen clean there, it is the control that is uneven.
    const seen = steps.map((row): VolumeStep => (row.step === 22 ? { ...row, eye: 'clean' } : row));
    expect(sourceCeiling({ steps: seen })).toMatchObject({ maxCleanStep: 24, method: 'not-reached' });
    // A rail holds: what grows above it grows slowly.
    const rail = thd([20, 21, 22, 23, 24, 25, 26].map((step) => [step, Math.min(1.2 + 0.01 * (step - 20), 0.5 * 1.19 ** (step - 20))]));
    expect(sourceCeiling({ steps: rail }).contradictsAt).toBeUndefined();
  });
  it('takes a step without a figure for clean below a clean one, and for unknown above it', () => {
    const steps = thd([
      [20, 1],
      [21, 1.2, 0.2],
      [22, 1.4],
      [23, 1.6, 4],
    ]);
    const { maxCleanStep, firstDirtyStep, warnings } = sourceCeiling({ steps });
    expect([maxCleanStep, firstDirtyStep]).toEqual([21, 23]);
    expect(warnings.join(' ')).toContain('between 21 and 23');
  });
  it.each<[string, VolumeStep[], string]>([
    [
      'dirty from the first',
      thd([
        [10, 1, 5],
        [11, 1.1, 8],
      ]),
      'Dirty from the first step on',
    ],
    [
      'dirty above steps of which nothing is known',
      thd([
        [10, 1],
        [11, 1.1, 8],
      ]),
      'No step below 11 has a distortion figure',
    ],
  ])('names no ceiling when %s', (_, steps, words) => {
    const result = sourceCeiling({ steps });
    expect(result.maxCleanStep).toBeUndefined();
    expect(result.voltageAtCeiling).toBeUndefined();
    expect(result.warnings.join(' ')).toContain(words);
  });
  it('sorts, and says what was doubled or is missing', () => {
    const { maxCleanStep, warnings } = sourceCeiling({
      steps: thd([
        [3, 1.4, 0.1],
        [1, 1, 0.1],
        [3, 1.4, 3],
        [5, 2, 9],
      ]),
    });
    expect(maxCleanStep).toBe(1);
    expect(warnings.join(' ')).toMatch(/out of order.*Step 3 appears twice.*missing: 1 to 3, 3 to 5/);
  });
  it.each([
    [20, 27, 32, 1.25, 0.9],
    [6, 12, 16, 2, 0.8],
    [1, 9, 14, 3, 2],
    // A limiter lets nothing through at all.
    [10, 17, 22, 1.5, 1.5],
    // Soft at first: what follows confirms where it began.
    [10, 17, 22, 1.5, 0.3],
  ])('by voltage from %i finds %i', (first, clean, last, growthDb, heldDb) => {
    expect(sourceCeiling({ steps: table(first, clean, last, growthDb, heldDb) })).toMatchObject({
      maxCleanStep: clean,
      firstDirtyStep: clean + 1,
      method: 'compression',
    });
  });
  it('is not fooled by a step left out, nor by the meter’s last digit', () => {
    const steps = table(20, 27, 32, 1.25, 1).filter(({ step }) => step !== 24);
    const rounded = steps.map(({ step, voltageRms }) => ({ step, voltageRms: Number(voltageRms!.toPrecision(3)) }));
    expect(sourceCeiling({ steps: rounded }).maxCleanStep).toBe(27);
  });
  it('never calls even growth dirty', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.4, max: 4, noNaN: true }),
        fc.integer({ min: 4, max: 30 }),
        fc.infiniteStream(fc.double({ min: -0.05, max: 0.05, noNaN: true })),
        (growthDb, count, errors) => {
          const steps = table(1, 99, count, growthDb, 0).map(({ step, voltageRms }) => ({
            step,
            voltageRms: voltageRms! * 10 ** ((errors.next().value as number) / 20),
          }));
          expect(sourceCeiling({ steps })).toMatchObject({ method: 'not-reached', maxCleanStep: count });
        },
      ),
      { seed: 4620 },
    );
  });
  it.each<[VolumeStep[], string]>([
    [[], 'the volume table is empty'],
    [[{ step: 1.5, voltageRms: 1 }], 'whole number'],
    [[{ step: 1, voltageRms: 0 }], 'voltage must be above 0 V'],
    [[{ step: 1, voltageRms: 1, thdPercent: -1 }], 'distortion must be at least 0 %'],
  ])('refuses %j', (steps, message) => {
    expect(() => sourceCeiling({ steps })).toThrow(message);
  });
});
