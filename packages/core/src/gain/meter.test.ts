import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { voltageFactor } from '../levels/decibels.ts';
import { judgeGain, knobTurns, meterUncertainty, turnsInWords, type Meter } from './meter.ts';

const METER: Meter = { percent: 1, digits: 3, highestHz: 1000, trueRms: true };
const EXACT: Meter = { ...METER, percent: 0, digits: 0 };

describe('meterUncertainty', () => {
  // Worked by hand: 1 % of 14.2 is 0.142, three counts of 0.1 are 0.3.
  it('adds percent and digits', () => {
    expect(meterUncertainty(14.2, 0.1, METER)).toBeCloseTo(0.442, 12);
    expect(meterUncertainty(14.2, 0.01, METER)).toBeCloseTo(0.172, 12);
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
    const advice = judgeGain(3.9, 0.1, 4.0, 0.1, METER);
    expect(advice).toMatchObject({ verdict: 'on-target', withinMeterOnly: true });
    expect(judgeGain(3.9, 0.001, 4.0, 0.1, { ...METER, percent: 0.1 }).verdict).toBe('up');
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
    [0.02, 'a hair'],
    [0.12, 'about an eighth of a turn'],
    [-0.24, 'about a quarter of a turn'],
    [0.9, 'more than half a turn'],
  ])('%d turns are %s', (turns, words) => {
    expect(turnsInWords(turns)).toBe(words);
  });
});
