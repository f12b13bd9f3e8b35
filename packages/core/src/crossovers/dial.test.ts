import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dialCornerHz, dialTableText, nearestSetting, readDialTable, settingWords, type Dial } from './dial.ts';

const tableOf = (text: string) => readDialTable(text).table.map(({ label, cornerHz }) => [label, cornerHz]);
const DIAL: Dial = {
  id: 'd',
  name: 'Low-pass',
  kind: 'lowpass',
  family: 'butterworth',
  order: 2,
  stops: 'clicks',
  table: readDialTable('40\n50\n63\n80\n100').table,
  multipliers: [1, 10],
};

describe('a table of stops', () => {
  const three = [
    ['1', 50],
    ['2', 63],
    ['3', 80],
  ];
  it.each([
    ['tabs', '1\t50\n2\t63\n3\t80', three],
    ['semicolons and Windows line ends', '1;50\r\n2;63\r\n3;80\r\n', three],
    ['commas, with a heading', 'click,corner\n1,50\n2,63\n3,80', three],
    ['quotes', '"1","50"\n"2","63"\n"3","80"', three],
    ['gaps and units', '1 50 Hz\n2 63 Hz\n3 80Hz', three],
    ['corners alone', '50\n63\n80\n', three],
    ['blank lines between', '50\n\n63\n  \n80', three],
    [
      'decimal commas',
      '63,5\n80\n100,5',
      [
        ['1', 63.5],
        ['2', 80],
        ['3', 100.5],
      ],
    ],
    [
      'thousands',
      'x;1k\ny;1.6k',
      [
        ['x', 1000],
        ['y', 1600],
      ],
    ],
    [
      'labels of several words',
      'full left 50\nfirst dot 70',
      [
        ['full left', 50],
        ['first dot', 70],
      ],
    ],
  ])('is read with %s', (_, text, wanted) => {
    expect(readDialTable(text).faults).toEqual([]);
    expect(tableOf(text)).toEqual(wanted);
  });

  it.each([
    ['a missing click', '1,50\n2,63\n4,80', 3, 'Click 3 is missing'],
    ['falling values', '50\n63\n55', 3, 'does not rise: 55\u00a0Hz after 63\u00a0Hz'],
    ['one value twice', '50\n50', 2, 'does not rise'],
    ['a hole in the corners', '50\n63\n400', 3, 'is a line missing?'],
    ['a word for a corner', '1 50\n2 lots', 2, 'does not belong here'],
    ['a corner of zero', '0\n50', 1, 'above 0 Hz'],
    ['three cells', '1;50;60\n2;60;70', 1, 'holds more'],
    ['one stop alone', '50', 1, 'two stops or more'],
    ['nothing', '', 1, 'two stops or more'],
    ['no end', Array.from({ length: 201 }, (_, i) => String(50 + i)).join('\n'), 201, 'at most 200'],
  ])('is told at its line: %s', (_, text, line, message) => {
    expect(readDialTable(text).faults).toContainEqual({ line, message: expect.stringContaining(message) as string });
  });

  it.each([
    ['a word for a corner', '1 50\n2 lots\n3 80\n4 100', [2]],
    ['too many cells', '1;50\n2;63;x\n3;80', [2]],
    ['no corner', '1;50\n2\n3;80', [2]],
  ])('blames no good line for a bad one: %s', (_, text, lines) => {
    expect(readDialTable(text).faults.map(({ line }) => line)).toEqual(lines);
  });

  it('comes back the same from its own text', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 2, max: 20 }), { minLength: 2, maxLength: 60 }), (steps) => {
        let corner = 30;
        const table = steps.map((step, i) => ({ label: String(i + 1), cornerHz: Number((corner *= 1 + step / 100).toPrecision(3)) }));
        const rising = table
          .filter(({ cornerHz }, i) => i === 0 || cornerHz > table[i - 1]!.cornerHz)
          .map((each, i) => ({ ...each, label: String(i + 1) }));
        expect(readDialTable(dialTableText(rising))).toEqual({ table: rising, faults: [] });
      }),
      { seed: 4620, numRuns: 80 },
    );
  });
});

describe('the nearest setting', () => {
  it.each([
    [80, '4', 1, 80],
    [78, '4', 1, 80],
    [70, '3', 1, 63],
    [500, '2', 10, 500],
    [30, '1', 1, 40],
    [5000, '5', 10, 1000],
  ])('to %d Hz is click %s at times %d', (wished, label, multiplier, cornerHz) => {
    const found = nearestSetting(DIAL, wished)!;
    expect(found).toMatchObject({ label, multiplier, cornerHz });
    expect(found.offPercent).toBeCloseTo(100 * (cornerHz / wished - 1), 9);
    expect(dialCornerHz(DIAL, found)).toBe(cornerHz);
  });
  it('is never beaten by any other stop or switch', () => {
    fc.assert(
      fc.property(fc.double({ min: 20, max: 3000, noNaN: true }), (wished) => {
        const far = (hertz: number): number => Math.abs(Math.log(hertz / wished));
        const all = DIAL.table.flatMap(({ cornerHz }) => DIAL.multipliers.map((multiplier) => cornerHz * multiplier));
        expect(far(nearestSetting(DIAL, wished)!.cornerHz)).toBeLessThanOrEqual(Math.min(...all.map(far)) + 1e-9);
      }),
      { seed: 4620 },
    );
  });
  it('takes the lower multiplier where two give the same', () => {
    const overlapping = { ...DIAL, table: readDialTable('40\n100\n250\n400').table };
    expect(nearestSetting(overlapping, 400)).toMatchObject({ label: '4', multiplier: 1 });
  });
  it('names switch and click, and the switch alone where there is a choice', () => {
    expect(settingWords(DIAL, nearestSetting(DIAL, 500)!)).toBe('click 2, switch at ×10');
    const plain = { ...DIAL, multipliers: [1] };
    expect(settingWords(plain, nearestSetting(plain, 50)!)).toBe('click 2');
  });
  it('goes between rough marks, evenly in octaves', () => {
    const marks: Dial = { ...DIAL, stops: 'marks', multipliers: [1], table: readDialTable('40\n80\n160').table };
    const found = nearestSetting(marks, 56.57)!;
    expect(found).toMatchObject({ label: '1', cornerHz: 56.57, between: { nextLabel: '2' } });
    expect(found.between!.share).toBeCloseTo(0.5, 3);
    expect(settingWords(marks, found)).toBe('half of the way from mark 1 to mark 2');
    expect(settingWords(marks, nearestSetting(marks, 80)!)).toBe('mark 2');
    // Beyond its ends the knob stands at the end.
    expect(nearestSetting(marks, 300)).toMatchObject({ label: '3', cornerHz: 160 });
  });
  it('has no answer for a stop or switch that is not there', () => {
    expect(dialCornerHz(DIAL, { click: 9, multiplier: 1 })).toBeUndefined();
    expect(dialCornerHz(DIAL, { click: 0, multiplier: 100 })).toBeUndefined();
    expect(nearestSetting({ ...DIAL, table: [] }, 80)).toBeUndefined();
  });
});
