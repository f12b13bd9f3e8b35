import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { voltageFactor } from '../levels/decibels.ts';
import { judgeGain, knobTurns, meterStep, meterUncertainty, turnsInWords, type Meter } from './meter.ts';

const METER: Meter = { percent: 1, digits: 3, highestHz: 1000, trueRms: true };
const EXACT: Meter = { ...METER, percent: 0, digits: 0 };

describe('meterUncertainty', () => {
  // Worked by hand: 1 % of 14.2 is 0.142, three counts of 0.1 are 0.3.
  it('adds percent and digits', () => {
    expect(meterUncertainty(14.2, 0.1, METER)).toBeCloseTo(0.442, 12);
    expect(meterUncertainty(14.2, 0.01, METER)).toBeCloseTo(0.172, 12);
  });
});

describe('meterStep', () => {
  // Ranges of a display of 1999: up to 1.999, 19.99, 199.9; of 5999 up to 5.999, 59.99.
  it.each([
    [1.5, {}, 0.001],
    [17.3, {}, 0.01],
    [34.6, {}, 0.1],
    [34.6, { counts: 5999 }, 0.01],
    [0.15, { finestVolt: 0.1 }, 0.1],
  ])('%d V with %j shows steps of %d V', (volt, meter, step) => {
    expect(meterStep(volt, meter)).toBeCloseTo(step, 9);
  });
});

describe('judgeGain', () => {
  it.each([
    [20, 'on-target'],
    [20.4, 'on-target'], // 0.17 dB
    [19.0, 'up'],
    [21.0, 'down'],
  ])('%d V against 20 V: %s', (volt, verdict) => {
    expect(judgeGain(volt, 0.01, 20, 0.2, EXACT).verdict).toBe(verdict);
  });

  it('calls a difference that the meter cannot see no difference, and says so', () => {
    const advice = judgeGain(3.94, 0.01, 4.0, 0.1, METER);
    expect(advice).toMatchObject({ verdict: 'on-target', withinMeterOnly: true });
    expect(judgeGain(3.94, 0.001, 4.0, 0.1, { ...METER, percent: 0.1, counts: 19_999 }).verdict).toBe('up');
  });

  it.each([
    // Twenty may be 19.5 to 20.5: all of it is over 17.3, all of 14.5 to 15.5 under it.
    [20, 1, 17.3, 'down'],
    [15, 1, 17.3, 'up'],
    // 16.5 is under, 17.4 is not.
    [17, 1, 17.3, 'too-coarse'],
    // Zeros that were left out change nothing where all that rounds to it is alike.
    [4.3, 0.1, 4.15, 'down'],
    [4.3, 0.01, 4.15, 'down'],
    [4.3, 0.1, 4.3, 'on-target'],
    [4.3, 0.01, 4.3, 'on-target'],
  ])('%d V typed to %d V against %d V: %s', (volt, typed, target, verdict) => {
    expect(judgeGain(volt, typed, target, 0.2, METER).verdict).toBe(verdict);
  });

  it('never calls a figure good that another with the same leading digits would not be', () => {
    fc.assert(
      fc.property(fc.integer({ min: 10, max: 999 }), fc.double({ min: 0.8, max: 1.25, noNaN: true }), (tenths, ratio) => {
        const [typed, target] = [Math.round(tenths / 10), (tenths / 10) * ratio];
        fc.pre(typed >= 1);
        if (judgeGain(typed, 1, target, 0.2, METER).verdict !== 'on-target') return;
        for (const off of [-0.49, -0.2, 0.2, 0.49]) expect(judgeGain(typed + off, 0.01, target, 0.2, METER).verdict).toBe('on-target');
      }),
      { seed: 4620 },
    );
  });

  it('says up for less and down for more, with the decibels that bring it there', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.1, max: 100, noNaN: true }), fc.double({ min: -20, max: 20, noNaN: true }), (target, db) => {
        fc.pre(Math.abs(db) > 0.21);
        const volt = target * voltageFactor(db);
        const advice = judgeGain(volt, 1e-6, target, 0.2, EXACT);
        expect(advice.verdict).toBe(db < 0 ? 'up' : 'down');
        expect(volt * voltageFactor(-advice.differenceDb)).toBeCloseTo(target, 6);
      }),
      { seed: 4620 },
    );
  });
});

describe('the knob', () => {
  it('spreads its decibels evenly over three quarters of a turn', () => {
    // 0.2 V to 6 V is 29.54 dB; 9.85 dB of it are a quarter of a turn.
    expect(knobTurns(29.5424 / 3, 0.2, 6)).toBeCloseTo(0.25, 5);
  });
  it.each([
    [0.02, 'a very small turn'],
    [0.12, 'about an eighth of a turn'],
    [-0.24, 'about a quarter of a turn'],
    [0.9, 'more than half a turn'],
  ])('%d turns are %s', (turns, words) => {
    expect(turnsInWords(turns)).toBe(words);
  });
});
