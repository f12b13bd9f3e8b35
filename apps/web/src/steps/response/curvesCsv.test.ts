import { expect, test } from 'vitest';
import { curvesCsv } from './curvesCsv.ts';

test('curves go out a row a frequency, with names that no spreadsheet works out, and nothing where a curve ends', () => {
  const average = { frequenciesHz: [20, 40, 80], levelDb: [70, 72, 71] };
  const place = { place: '=left ear', frequenciesHz: [40, 80], levelDb: [72.126, 71] };
  expect(curvesCsv([place], average, average).split('\r\n')).toEqual([
    'frequency Hz,"\'=left ear dB",average dB,wanted dB',
    '20,,70,70',
    '40,72.13,72,72',
    '80,71,71,71',
  ]);
});
