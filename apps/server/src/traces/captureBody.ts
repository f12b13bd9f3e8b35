import { lineTooLong, MOST_LINE_BYTES } from '@yield/core';
import type { RequestHandler } from 'express';
import { Problem } from '../problem.ts';

const LF = 0x0a;
const CR = 0x0d;

/**
 * Takes in the body of a capture, of one of these content types, as `request.body`.
 *
 * The bytes lie in shared memory: the thread that analyses them reads them where they are, so that a file of the largest size is held
 * once. A text file whose lines never end is refused while it still comes in.
 *
 * @throws {Problem} 413 over the limit, {@link CoreError} `CAPTURE_NOT_TEXT` for a line without an end
 */
export function captureBody(types: readonly string[], limitBytes: number): RequestHandler {
  return (request, _response, next) => {
    const type = (request.headers['content-type'] ?? '').split(';')[0]!.trim().toLowerCase();
    if (!types.includes(type)) {
      next();
      return;
    }
    const announced = Number(request.headers['content-length'] ?? NaN);
    if (announced > limitBytes) {
      next(tooLarge(limitBytes));
      return;
    }
    const body = new Growing(Number.isFinite(announced) ? announced : 0);
    const lines = type.startsWith('text/') ? new LineGuard() : undefined;
    const end = (error?: unknown): void => {
      request.off('data', onData).off('end', onEnd).off('error', end).off('aborted', onAborted);
      if (error === undefined) request.body = body.bytes();
      else request.resume();
      next(error);
    };
    const onData = (chunk: Buffer): void => {
      if (body.length + chunk.length > limitBytes) end(tooLarge(limitBytes));
      else if (lines?.isShort(chunk) === false) end(lineTooLong(lineAtEnd(body.bytes())));
      else body.add(chunk);
    };
    const onEnd = (): void => end();
    const onAborted = (): void => end(new Problem(400, 'Broken off', 'The transfer broke off before its end. Send it again.'));
    request.on('data', onData).on('end', onEnd).on('error', end).on('aborted', onAborted);
  };
}

const tooLarge = (limit: number): object => ({ type: 'entity.too.large', limit });

/** Bytes in shared memory that grow as they come in. */
class Growing {
  length = 0;
  #memory: Uint8Array<SharedArrayBuffer>;

  constructor(expected: number) {
    this.#memory = new Uint8Array(new SharedArrayBuffer(Math.max(expected, 1 << 16)));
  }

  add(chunk: Buffer): void {
    if (this.length + chunk.length > this.#memory.length) {
      const larger = new Uint8Array(new SharedArrayBuffer(Math.max(2 * this.#memory.length, this.length + chunk.length)));
      larger.set(this.#memory.subarray(0, this.length));
      this.#memory = larger;
    }
    this.#memory.set(chunk, this.length);
    this.length += chunk.length;
  }

  bytes(): Buffer {
    return Buffer.from(this.#memory.buffer, 0, this.length);
  }
}

/** Watches for a line that is longer than any of a capture's. */
class LineGuard {
  #length = 0;

  /** A chunk is searched from its ends and by windows: looking at each byte would take as long as reading the figures. @returns false once a line is too long */
  isShort(chunk: Buffer): boolean {
    const first = firstBreak(chunk);
    if (first < 0) {
      this.#length += chunk.length;
      return this.#length <= MOST_LINE_BYTES;
    }
    if (this.#length + first > MOST_LINE_BYTES) return false;
    let last = first;
    while (chunk.length - last - 1 > MOST_LINE_BYTES) {
      const found = lastBreak(chunk.subarray(last + 1, last + 2 + MOST_LINE_BYTES));
      if (found < 0) return false;
      last += 1 + found;
    }
    const inRest = lastBreak(chunk.subarray(last + 1));
    this.#length = chunk.length - (inRest < 0 ? last : last + 1 + inRest) - 1;
    return true;
  }
}

const firstBreak = (bytes: Buffer): number => {
  const [feed, carriage] = [bytes.indexOf(LF), bytes.subarray(0, MOST_LINE_BYTES + 1).indexOf(CR)];
  return feed < 0 || carriage < 0 ? Math.max(feed, carriage) : Math.min(feed, carriage);
};
const lastBreak = (bytes: Buffer): number => {
  const feed = bytes.lastIndexOf(LF);
  return feed < 0 ? bytes.lastIndexOf(CR) : feed;
};

/** Which line of the text the end of these bytes is in, from 1. */
function lineAtEnd(bytes: Buffer): number {
  let line = 1;
  for (let at = bytes.indexOf(LF); at >= 0; at = bytes.indexOf(LF, at + 1)) line += 1;
  return line;
}
