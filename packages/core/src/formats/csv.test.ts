import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CoreError, type CoreErrorCode } from '../coreError.ts';
import type { Capture } from './capture.ts';
import { seededRandom } from '../numerics/random.ts';
import type { Arrival } from './arrival.ts';
import type { CsvRows } from './csv.ts';
import { captureFromRows, readCapture, readCaptureRows } from './readCapture.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const read = (text: string): Capture => readCapture(bytes(text));
const rows = (count: number, row: (i: number) => string, end = '\n'): string =>
  Array.from({ length: count }, (_, i) => row(i)).join(end) + end;

/** The same three samples at 1 ms and 0.5, −1.25, 2 V, as different instruments write them. */
const LAYOUTS: [string, string][] = [
  ['a plain header', 'Time,CH1\n0,0.5\n0.001,-1.25\n0.002,2\n'],
  ['no header', '0,0.5\n0.001,-1.25\n0.002,2\n'],
  ['units in the header', 'Time (ms),CH1 (mV)\n0,500\n1,-1250\n2,2000\n'],
  ['units in brackets', 'Time [us];CH1 [V]\n0;0.5\n1000;-1.25\n2000;2\n'],
  ['a units row', 'X,CH1\ns,V\n0,0.5\n0.001,-1.25\n0.002,2\n'],
  ['a units row in parentheses and decimal commas', 'Zeit;CH1\n(s);(V)\n0,000;0,5\n0,001;-1,25\n0,002;2,0\n'],
  ['tabs and CRLF', 'Time\tCH1\r\n0\t0.5\r\n0.001\t-1.25\r\n0.002\t2\r\n'],
  ['tabs and decimal commas', 'Time\tCH1\n0,000\t0,5\n0,001\t-1,25\n0,002\t2,0\n'],
  ['a byte order mark', '\ufeffTime,CH1\n0,0.5\n0.001,-1.25\n0.002,2\n'],
  [
    'a metadata preamble',
    'Model,bench scope\nRecord Length,3\nSample Interval,0.001\nVertical Scale,1\n\nTIME,CH1\n0,0.5\n0.001,-1.25\n0.002,2\n',
  ],
  ['comments before and between', '# saved by hand\n# Time,CH1\n0,0.5\n# a note\n0.001,-1.25\n0.002,2\n'],
  ['trailing separators', 'Time,CH1,\n0,0.5,\n0.001,-1.25,\n0.002,2,\n'],
  ['blank lines at the end', 'Time,CH1\n0,0.5\n0.001,-1.25\n0.002,2\n\n\n'],
  ['no line feed at the end', 'Time,CH1\n0,0.5\n0.001,-1.25\n0.002,2'],
  ['quoted cells', '"Time","CH1"\n"0","0.5"\n"0.001","-1.25"\n"0.002","2"\n'],
  ['spaces between columns', 'Time CH1\n0 0.5\n0.001 -1.25\n0.002 2\n'],
  ['exponents', 'Time,CH1\n0.000e+00,5.00E-01\n1.000e-03,-1.25e0\n2.000e-03,2e0\n'],
  ['a sample count with an increment column', 'X,CH1,Start,Increment\nSequence,Volt,0.0,1.0e-03\n0,0.5\n1,-1.25\n2,2\n'],
  ['a sample count with an interval line', 'Sample interval (us),1000\nSample,CH1\n0,0.5\n1,-1.25\n2,2\n'],
  ['a sample rate and channels only', 'Sample Rate,1 kHz\nCH1\n0.5\n-1.25\n2\n'],
  ['very long figures', 'Time,CH1\n0,0.50000000000000000\n0.001,-1.25000000000000000\n0.002,2.00000000000000000\n'],
  ['old Macintosh line ends', 'Time,CH1\r0,0.5\r0.001,-1.25\r0.002,2\r'],
];

describe('a CSV capture', () => {
  it.each(LAYOUTS)('is read with %s', (_, text) => {
    const capture = read(text);
    expect(capture.channels).toHaveLength(1);
    expect(Array.from(capture.channels[0]!.samples)).toEqual([0.5, -1.25, 2]);
    expect(capture.sampleRateHz).toBeCloseTo(1000, 6);
  });

  it('keeps channel names, doubles told apart, and several channels in order', () => {
    const { channels } = read('Time,CH1 (V),MATH,CH1 (V)\n0,1,2,3\n1,4,5,6\n2,7,8,9\n');
    expect(channels.map(({ name }) => name)).toEqual(['CH1', 'MATH', 'CH1 (3)']);
    expect(Array.from(channels[2]!.samples)).toEqual([3, 6, 9]);
  });

  it('is read from UTF-16, with micro signs, and with a probe factor', () => {
    const text = 'Time (µs),CH1\n0,1\n10,2\n20,3\n';
    expect(read(text).sampleRateHz).toBeCloseTo(1e5, 3);
    const wide = new Uint8Array([0xff, 0xfe, ...Array.from('T,CH1\n0,1\n1,2\n2,3\n').flatMap((c) => [c.charCodeAt(0), 0])]);
    expect(Array.from(readCapture(wide, { probe: 10 }).channels[0]!.samples)).toEqual([10, 20, 30]);
  });

  it('takes times that are rounded until neighbours are equal', () => {
    const capture = read(`Time,CH1\n${rows(1000, (i) => `${(i * 0.00025).toFixed(3)},${i % 7}`)}`);
    expect(capture.sampleRateHz).toBeCloseTo(4000, -1);
  });

  it('keeps every row of a long file, also where it holds more than its beginning promised', () => {
    const count = 30_000;
    const wordy = (i: number): string => (i < 4000 ? `${i}.000000,${(i % 7).toFixed(8)}` : `${i},${i % 7}`);
    const { samples } = read(`Time,CH1\n${rows(count, wordy)}`).channels[0]!;
    expect(samples).toHaveLength(count);
    expect(samples.every((value, i) => value === i % 7)).toBe(true);
  });

  it('starts where the file says', () => {
    expect(read('Time,CH1\n-0.5,1\n0,2\n0.5,3\n').startSecond).toBe(-0.5);
  });

  const faults: [string, string, CoreErrorCode, string][] = [
    ['an empty file', '', 'CAPTURE_EMPTY', 'empty'],
    ['words', 'the amplifier clips\nat step nine\n', 'CAPTURE_NO_DATA', 'No rows of figures'],
    ['a header and nothing else', 'Time,CH1\n', 'CAPTURE_NO_DATA', 'No rows of figures'],
    ['a single row', 'Time,CH1\n0,1\n', 'CAPTURE_NO_DATA', 'single row'],
    ['a picture named .csv', '\u0000', 'CAPTURE_NOT_TEXT', 'does not hold text'],
    [
      'time running backwards',
      `Time,CH1\n${rows(50, (i) => `${i * 0.001},1`)}${rows(50, (i) => `${i * 0.001},1`)}`,
      'CAPTURE_TIME_BACKWARDS',
      'backwards at row 51',
    ],
    ['time running backwards, no header', rows(50, (i) => `${1 - i * 0.001},1`), 'CAPTURE_TIME_BACKWARDS', 'backwards'],
    ['a gap', `Time,CH1\n${rows(100, (i) => `${i < 50 ? i * 0.001 : 1 + i * 0.001},1`)}`, 'CAPTURE_TIME_UNEVEN', 'not evenly spaced'],
    ['time that stands still', `Time,CH1\n${rows(9, () => '0.001,1')}`, 'CAPTURE_NO_TIME', 'does not move'],
    [
      'one channel missing half-way',
      `Time,CH1,CH2\n${rows(50, (i) => `${i},1,2`)}${rows(50, (i) => `${50 + i},1,`)}`,
      'CAPTURE_VALUE_MISSING',
      'Line 52: CH2 has no value',
    ],
    [
      'a column missing half-way',
      `Time,CH1,CH2\n${rows(50, (i) => `${i},1,2`)}${rows(50, (i) => `${50 + i},1`)}`,
      'CAPTURE_VALUE_MISSING',
      'Line 52: CH2 has no value',
    ],
    ['a word among the figures', `Time,CH1\n0,1\n1,2\n2,3\n3,clip\n4,5\n`, 'CAPTURE_VALUE_UNREADABLE', 'Line 5: “clip” in CH1'],
    ['a row too wide', `Time,CH1\n0,1\n1,2\n2,3\n3,4,5,6\n`, 'CAPTURE_VALUE_UNREADABLE', 'Line 5 has 4 values'],
    ['no time base', 'CH1\n1\n2.5\n3\n2\n', 'CAPTURE_NO_TIME', 'time column'],
    ['a sample count without interval', 'Sample,CH1\n0,1\n1,2\n2,3\n', 'CAPTURE_NO_TIME', 'how far apart'],
    ['infinity', `Time,CH1\n0,1\n1,2\n2,3\n3,1e999\n`, 'CAPTURE_VALUE_UNREADABLE', 'Line 5'],
  ];
  it.each(faults)('with %s is refused in words', (_, text, code, words) => {
    try {
      read(text);
      expect.unreachable('it was read');
    } catch (error) {
      expect(error).toBeInstanceOf(CoreError);
      expect((error as CoreError).code).toBe(code);
      expect((error as CoreError).message).toContain(words);
    }
  });

  it.each([
    ['a picture (PNG)', [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a]],
    ['a picture (JPEG)', [0xff, 0xd8, 0xff, 0xe0, 0, 0]],
    ['a ZIP archive', [0x50, 0x4b, 0x03, 0x04, 0, 0]],
    ['a PDF document', [0x25, 0x50, 0x44, 0x46, 0x2d, 0x31]],
  ])('that is really %s is named as such', (what, head) => {
    expect(() => readCapture(new Uint8Array(head))).toThrow(what);
  });

  it('gives back the figures that were written, whatever the layout', () => {
    const value = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((v) => (Math.abs(v) < 1e-150 ? 0 : Number(v.toPrecision(8))));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(value, value), { minLength: 2, maxLength: 60 }),
        fc.constantFrom(',', ';', '\t'),
        fc.boolean(),
        fc.constantFrom('\n', '\r\n'),
        (pairs, delimiter, exponent, end) => {
          const comma = delimiter !== ',';
          const print = (v: number): string => (exponent ? v.toExponential(9) : v.toFixed(6)).replace('.', comma ? ',' : '.');
          const text = `Time${delimiter}A${delimiter}B${end}${rows(pairs.length, (i) => [print(i * 0.5), ...pairs[i]!.map(print)].join(delimiter), end)}`;
          const { channels, sampleRateHz } = read(text);
          expect(sampleRateHz).toBe(2);
          const printed = (v: number): number => Number(exponent ? v.toExponential(9) : v.toFixed(6));
          // Adding zero turns −0 into 0: a file may hold either.
          expect(Array.from(channels[0]!.samples, (v) => v + 0)).toEqual(pairs.map(([a]) => printed(a) + 0));
          expect(Array.from(channels[1]!.samples, (v) => v + 0)).toEqual(pairs.map(([, b]) => printed(b) + 0));
        },
      ),
      { seed: 4620, numRuns: 200 },
    );
  });
});

describe('a file that is no capture, or a hostile one', () => {
  const table = (count: number): string => Array.from({ length: count }, (_, i) => `${i * 1e-5},${Math.sin(i)}`).join('\n');
  const many = Array.from({ length: 200 }, (_, i) => `h${i}`).join(',');
  const wide = `${many}\n${Array.from({ length: 200 }, (_, i) => i).join(',')}\n`;
  it.each([
    ['one line of two million characters', 'x'.repeat(2_000_000), 'CAPTURE_NOT_TEXT'],
    ['one row of a million figures', '1,'.repeat(1_000_000), 'CAPTURE_NOT_TEXT'],
    ['a line too long after good rows', `Time,CH1\n${table(50)}\n${'7'.repeat(100_000)}\n`, 'CAPTURE_NOT_TEXT'],
    ['two hundred columns', wide.repeat(3), 'CAPTURE_NO_DATA'],
    ['line feeds alone', '\n'.repeat(1_000_000), 'CAPTURE_NO_DATA'],
    ['figures beyond any voltage', 'Time,CH1\n0,1e300\n1e-5,1\n2e-5,1\n', 'CAPTURE_VALUE_UNREADABLE'],
    ['a time base of the smallest number', 'Time,CH1\n0,1\n5e-324,1\n1e-323,1\n', 'CAPTURE_NO_TIME'],
  ])('%s', (_, content, code) => {
    expect(() => readCapture(bytes(content))).toThrow(expect.objectContaining({ code }) as Error);
  });
  it.each(['constructor', '__proto__', 'toString', 'hasOwnProperty'])('a unit called %s is a part of the name', (word) => {
    const { channels } = readCapture(bytes(`Time (s),CH1 (${word})\n${table(20)}\n`));
    expect(channels[0]!.name).toBe(`CH1 (${word})`);
    expect(channels[0]!.samples[1]).toBeCloseTo(Math.sin(1), 9);
  });
  it('with the longest header that is read ends: by the square of its length it would take minutes, and be timed out', () => {
    const spaces = ' '.repeat(4_000);
    const preamble = `a${spaces}b(${spaces}\n${'1'.repeat(9_000)}x,${spaces}1\n`.repeat(10);
    const { channels } = readCapture(bytes(`${preamble}Time,CH1\n${table(50)}\n`));
    expect(channels).toHaveLength(1);
  });
  it('of the smallest figures is silence', () => {
    const { channels } = readCapture(bytes('Time,CH1\n0,5e-324\n1e-5,-5e-324\n2e-5,0\n'));
    expect([...channels[0]!.samples].every((value) => value === 0)).toBe(true);
  });
});

describe('a table in parts', () => {
  const random = seededRandom('parts');
  const whole = (from: number, to: number): number => from + Math.floor(random.uniform() * (to - from + 1));
  const lineEnds = ['\n', '\r\n', '\r'];
  /** Rows as recorders write them, with a comment, a wide number and an empty line among them. */
  const tableOf = (rows: number, lineEnd: string): Uint8Array => {
    const lines = Array.from({ length: rows }, (_, i) => `${(i / 1e4).toFixed(4)},${(3 * Math.sin(i / 7)).toFixed(whole(0, 9))}`);
    lines.splice(whole(0, rows), 0, '# a word of the recorder', '');
    const wide = whole(rows / 2, rows - 1);
    lines[wide] = `${lines[wide]} `;
    return new TextEncoder().encode(`Time (s),CH1 (V)${lineEnd}${lines.join(lineEnd)}${random.uniform() < 0.5 ? lineEnd : ''}`);
  };
  const HEAD = 300_000;
  /** The same bytes as they come in by and by: what has not come is not there. */
  const arriving = (all: Uint8Array): { bytes: Uint8Array; arrival: Arrival } => {
    const bytes = new Uint8Array(all.length);
    bytes.set(all.subarray(0, HEAD));
    let there = Math.min(HEAD, all.length);
    const until = (count: number): number => {
      const next = Math.min(all.length, Math.max(there, count + whole(0, 30_000)));
      bytes.set(all.subarray(there, next), there);
      there = next;
      return there;
    };
    return { bytes, arrival: { until } };
  };

  it('is the same as in one, wherever it is parted, and while it still comes in', () => {
    for (let round = 0; round < 24; round += 1) {
      const bytes = tableOf(whole(12_000, 30_000), lineEnds[round % 3]!);
      const border = random.uniform();
      const parts = [
        { from: 0, to: border },
        { from: border, to: 1 },
      ].map((part) => {
        const { bytes: coming, arrival } = arriving(bytes);
        return readCaptureRows(coming, {}, part, arrival)!;
      });
      expect(captureFromRows(parts, {})).toEqual(readCapture(bytes));
    }
  });

  it('has a time base as a whole: what runs backwards or leaps between the parts is told', () => {
    const parts = (first: number[], second: number[]): CsvRows[] =>
      [first, second].map((times) => ({
        ...readCaptureRows(new TextEncoder().encode('Time,CH1\n0,1\n1,2\n2,1\n'), {}, { from: 0, to: 1 })!,
        rows: times.length,
        columns: [Float64Array.from(times), new Float64Array(times.length)],
      }));
    expect(() => captureFromRows(parts([0, 1, 2], [1.5, 3, 4]), {})).toThrow('Time runs backwards at row 4 of the figures (1.5 after 2)');
    expect(() => captureFromRows(parts([0, 1, 2], [30, 31, 32]), {})).toThrow('not evenly spaced');
    expect(captureFromRows(parts([0, 1, 2], [3, 4]), {}).sampleRateHz).toBe(1);
    expect(captureFromRows(parts([0, 1, 2, 3], []), {}).channels[0]!.samples).toHaveLength(4);
  });
});
