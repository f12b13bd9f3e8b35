import { describe, expect, it } from 'vitest';
import { analyseCapture } from './analyseCapture.ts';

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
