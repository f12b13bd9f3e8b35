import { MAX_LINE_BYTES } from '@yield/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { lineAtEnd, LineGuard } from '../src/traces/lineGuard.ts';

const guarded = (chunks: readonly string[]): boolean => {
  const guard = new LineGuard();
  return chunks.every((chunk) => guard.isShort(Buffer.from(chunk)));
};

/** Lines of these lengths, cut into chunks of this size. */
function chunksOf(lengths: readonly number[], end: string, size: number): string[] {
  const text = lengths.map((length) => '7'.repeat(length) + end).join('');
  return Array.from({ length: Math.ceil(text.length / size) }, (_, i) => text.slice(i * size, (i + 1) * size));
}

describe('the length of lines that come in by chunks', () => {
  it('is refused beyond the longest, wherever the chunks end', () => {
    const length = fc.oneof(fc.nat(60), fc.integer({ min: MAX_LINE_BYTES - 2, max: MAX_LINE_BYTES + 2 }), fc.constant(3 * MAX_LINE_BYTES));
    fc.assert(
      fc.property(
        fc.array(length, { minLength: 1, maxLength: 8 }),
        fc.constantFrom('\n', '\r\n', '\r'),
        fc.integer({ min: 700, max: 4 * MAX_LINE_BYTES }),
        (lengths, end, size) => {
          // A carriage return before the line feed may be counted with the line.
          const slack = end === '\r\n' ? 1 : 0;
          const longest = Math.max(...lengths);
          if (longest + slack <= MAX_LINE_BYTES) expect(guarded(chunksOf(lengths, end, size))).toBe(true);
          if (longest > MAX_LINE_BYTES + slack) expect(guarded(chunksOf(lengths, end, size))).toBe(false);
        },
      ),
    );
  });

  it('takes short lines whose ends are of both kinds', () => {
    // Nearly a longest line's worth of rows since the last line feed, cut within one of them.
    const rows = `${'7'.repeat(99)}\r`.repeat(400);
    expect(guarded([`a\nb\n${rows.slice(0, MAX_LINE_BYTES - 6)}`, rows.slice(MAX_LINE_BYTES - 6)])).toBe(true);
  });

  it('names the line that the bytes end in', () => {
    expect(lineAtEnd(Buffer.from('a\nb\nc'))).toBe(3);
    expect(lineAtEnd(Buffer.from(''))).toBe(1);
  });
});
