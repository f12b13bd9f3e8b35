import { lineTooLong } from '@yield/core';
import type { RequestHandler } from 'express';
import { dropChunks } from '../giveBack.ts';
import { Problem } from '../problem.ts';
import { Arriving, setArrival } from './arriving.ts';
import { lineAtEnd, LineGuard } from './lineGuard.ts';

/** A text of this length that comes at this speed is worth a thread that waits for the rest. */
const EARLY = { leastBytes: 4_000_000, firstBytes: 500_000, withinMs: 100 };

/**
 * Takes in the body of a capture, of one of these content types, as `request.body`.
 *
 * The bytes lie in shared memory: the thread that analyses them reads them where they are, so that a file of the largest size is held
 * once. A text file whose lines never end is refused while it still comes in.
 *
 * @param isEarly - hands a large text that comes quickly on before its end: whoever takes it waits for its {@link arrivalOf}
 * @throws {Problem} 413 over the limit, {@link CoreError} `CAPTURE_NOT_TEXT` for a line without an end
 */
export function captureBody(types: readonly string[], limitBytes: number, isEarly = false): RequestHandler {
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
    const start = performance.now();
    let handedOn: Arriving | undefined;
    const mayGoEarly = isEarly && lines !== undefined && announced >= EARLY.leastBytes;
    const end = (error?: unknown): void => {
      request.off('data', onData).off('end', onEnd).off('error', end).off('aborted', onAborted);
      if (error !== undefined) request.resume();
      if (handedOn !== undefined) handedOn.end(error);
      else {
        if (error === undefined) request.body = body.bytes();
        next(error);
      }
    };
    const onData = (chunk: Buffer): void => {
      if (body.length + chunk.length > limitBytes) end(tooLarge(limitBytes));
      else if (lines?.isShort(chunk) === false) end(lineTooLong(lineAtEnd(body.bytes())));
      else {
        body.add(chunk);
        if (handedOn !== undefined) handedOn.tell(body.length);
        else if (mayGoEarly && body.length >= EARLY.firstBytes && performance.now() - start < EARLY.withinMs) {
          handedOn = new Arriving(body.length);
          request.body = body.bytes(announced);
          setArrival(request, handedOn);
          next();
        }
      }
    };
    const onEnd = (): void => end();
    const onAborted = (): void => end(new Problem(400, 'Broken off', 'The transfer broke off before its end. Send it again.'));
    request.on('data', onData).on('end', onEnd).on('error', end).on('aborted', onAborted);
  };
}

const tooLarge = (limit: number): object => ({ type: 'entity.too.large', limit });

/** Chunks of this many bytes are let go of together. */
const DROP_BYTES = 8_000_000;

/** Bytes in shared memory that grow as they come in. */
class Growing {
  length = 0;
  #sinceDrop = 0;
  #memory: Buffer<SharedArrayBuffer>;

  constructor(expected: number) {
    this.#memory = Buffer.from(new SharedArrayBuffer(Math.max(expected, 1 << 16)));
  }

  add(chunk: Buffer): void {
    if (this.length + chunk.length > this.#memory.length) {
      const larger = Buffer.from(new SharedArrayBuffer(Math.max(2 * this.#memory.length, this.length + chunk.length)));
      larger.fill(this.#memory.subarray(0, this.length), 0, this.length);
      this.#memory = larger;
    }
    // As `set` does, which takes four times as long into shared memory.
    this.#memory.fill(chunk, this.length, this.length + chunk.length);
    this.length += chunk.length;
    this.#sinceDrop += chunk.length;
    if (this.#sinceDrop < DROP_BYTES) return;
    this.#sinceDrop = 0;
    dropChunks();
  }

  /** @param length - of all, where some are still to come */
  bytes(length = this.length): Buffer {
    return Buffer.from(this.#memory.buffer, 0, length);
  }
}
