import { describe, expect, it } from 'vitest';
import { readCurve } from './readCurve.ts';

describe('a response that was measured elsewhere', () => {
  const points = { frequenciesHz: [20, 31.5, 50], levelDb: [80.5, 84, -3.2], faults: [] };
  it.each([
    ['20 80.5\n31.5 84\n50 -3.2', 'spaces'],
    ['* a remark\n"Freq","dB"\n20, 80.5, 12.1\n31.5, 84, 3\n50, -3.2, -8', 'commas, a heading, degrees that are left alone'],
    ['20;80,5\n31,5;84\n50;-3,2\n', 'semicolons and decimal commas'],
    ['20\t80,5\r\n31,5\t84\r\n\r\n50\t-3,2', 'tabs'],
    ['2.0e1 80.5\n3.15e1 84\n5e1 -3.2', 'exponents'],
  ])('is read: %#', (text) => {
    expect(readCurve(text)).toEqual(points);
  });
  it.each([
    ['20 80\n20 81\n30 82', 'Line 2: 20 Hz after 20 Hz'],
    ['30 80\n20 81\n40 82', 'Line 2: 20 Hz after 30 Hz'],
    ['20 80\n30\n40 82', 'Line 2: enter a frequency and decibels'],
    ['20 80\n30 4000\n40 82', 'Line 2: 4000 is no level'],
    ['-5 80\n30 81\n40 82', 'Line 1: frequency must be above'],
    ['20 80', '3 lines at least'],
    ['no figures at all', '3 lines at least'],
  ])('is refused with the line that is wrong: %#', (text, words) => {
    expect(readCurve(text).faults[0]!.message).toContain(words);
  });
});
