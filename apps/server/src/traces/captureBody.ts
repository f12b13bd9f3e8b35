import { lineTooLong } from '@yield/core';
import type { RequestHandler } from 'express';
import { Problem } from '../problem.ts';
import { lineAtEnd, LineGuard } from './lineGuard.ts';

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
