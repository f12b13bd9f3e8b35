import { describe, expect, it } from 'vitest';
import { encodeWav } from '../tones/encodeWav.ts';
import { readCapture } from '../formats/readCapture.ts';
import { analyseCapture } from './analyseCapture.ts';
import { analyseTrace } from './analyseTrace.ts';

const read = (text: string) => analyseCapture(new TextEncoder().encode(text), { curve: true }).channels[0]!;

describe('a response that was measured elsewhere', () => {
  it.each([
    ['plain', '20 74\n40 88\n80 78\n'],
    ['with comments and a third column of degrees', '* a measurement\n# Freq SPL Phase\n20.0 74.0 12.1\n40.0 88.0 -4.0\n80.0 78.0 3\n'],
    ['with decimal commas and semicolons', '"Hz";"dB"\n20,0;74,0\n40,0;88,0\n80,0;78,0\n'],
    ['with tabs and CRLF', '20\t74\r\n40\t88\r\n80\t78\r\n'],
  ])('is read %s', (_, text) => {
    const { curve, clipping } = read(text);
    expect(curve).toEqual([
      { hertz: 20, db: 74 },
      { hertz: 40, db: 88 },
      { hertz: 80, db: 78 },
    ]);
    expect(clipping.verdict).toBe('curve');
  });
  it.each([
    ['frequencies that fall', '80 78\n40 88\n20 74\n', 'must rise'],
    ['a frequency twice', '20 74\n20 75\n40 88\n', 'must rise'],
    ['a line of one figure', '20 74\n40\n80 78\n', 'Line 2'],
    ['nothing', 'a note\n', '3 lines'],
  ])('is refused with %s', (_, text, words) => {
    expect(() => read(text)).toThrow(words);
  });
});

describe('a recording of several channels', () => {
  const tone = (hertz: number, size: number, turn = 0): Float64Array =>
    Float64Array.from({ length: 24_000 }, (_, n) => size * Math.sin((2 * Math.PI * hertz * n) / 48_000 + turn));

  it.each([
    ['one tone', [tone(1000, 0.5), tone(1000, 0.4, 1), tone(1000, 0.3, 2)]],
    ['tones that drift apart', [tone(1000, 0.5), tone(1001.5, 0.4), tone(998, 0.3, 2)]],
    ['a silent one among them', [tone(1000, 0.5), tone(0, 0), tone(1000, 0.3, 2)]],
  ])('is judged channel by channel, one in memory at a time, as it is all at once: %s', (_, channels) => {
    const bytes = encodeWav(channels, { sampleRateHz: 48_000, bits: 24 });
    expect(analyseCapture(bytes, { fullScaleVolt: 2 })).toEqual(analyseTrace(readCapture(bytes, { fullScaleVolt: 2 })));
  });
  it('is refused where a sample of the last channel is no number', () => {
    const bytes = new Uint8Array(44 + 8 * 100);
    bytes.set(encodeWav([new Float64Array(100), new Float64Array(100)], { sampleRateHz: 48_000, bits: 16 }).subarray(0, 44));
    const view = new DataView(bytes.buffer);
    view.setUint16(20, 3, true);
    view.setUint16(34, 32, true);
    view.setUint32(40, 800, true);
    view.setFloat32(44 + 796, NaN, true);
    expect(() => analyseCapture(bytes, {})).toThrow('not numbers');
  });
});
