import { MAX_LINE_BYTES } from '@yield/core';

const LF = 0x0a;
const CR = 0x0d;

/** Watches for a line that is longer than any of a capture's. */
export class LineGuard {
  #length = 0;

  /** A chunk is searched from its ends and by windows: looking at each byte would take as long as reading the figures. @returns false once a line is too long */
  isShort(chunk: Buffer): boolean {
    const first = firstBreak(chunk);
    if (first < 0) {
      this.#length += chunk.length;
      return this.#length <= MAX_LINE_BYTES;
    }
    if (this.#length + first > MAX_LINE_BYTES) return false;
    let last = first;
    while (chunk.length - last - 1 > MAX_LINE_BYTES) {
      const found = lastBreak(chunk.subarray(last + 1, last + 2 + MAX_LINE_BYTES));
      if (found < 0) return false;
      last += 1 + found;
    }
    const inRest = lastBreak(chunk.subarray(last + 1));
    this.#length = chunk.length - (inRest < 0 ? last : last + 1 + inRest) - 1;
    return true;
  }
}

const firstBreak = (bytes: Buffer): number => {
  const [feed, carriage] = [bytes.indexOf(LF), bytes.subarray(0, MAX_LINE_BYTES + 1).indexOf(CR)];
  return feed < 0 || carriage < 0 ? Math.max(feed, carriage) : Math.min(feed, carriage);
};
const lastBreak = (bytes: Buffer): number => Math.max(bytes.lastIndexOf(LF), bytes.lastIndexOf(CR));

/** Which line of the text the end of these bytes is in, from 1. */
export function lineAtEnd(bytes: Buffer): number {
  let line = 1;
  for (let at = bytes.indexOf(LF); at >= 0; at = bytes.indexOf(LF, at + 1)) line += 1;
  return line;
}
