import { lineTooLong } from '@yield/core';
import { createHash, type Hash } from 'node:crypto';
import type { Request, RequestHandler } from 'express';
import { dropChunks } from '../releaseMemory.ts';
import { Problem } from '../problem.ts';
import { untilGone } from '../untilGone.ts';
import type { Admission } from './admission.ts';
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
export function captureBody(types: readonly string[], limitBytes: number, admission: Admission, isEarly = false): RequestHandler {
  return async (request, response, next) => {
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
    // Unread until there is room for it: the line itself holds the sender back. Of one that does not say how much it is, the most is counted.
    const leave = await admission.enter(keyOf(request), Number.isFinite(announced) ? announced : limitBytes, untilGone(response));
    response.once('close', leave);
    const body = new Growing(Number.isFinite(announced) ? announced : 0, !isEarly);
    const lines = type.startsWith('text/') ? new LineGuard() : undefined;
    const start = performance.now();
    let handedOn: Arriving | undefined;
    const mayGoEarly = isEarly && lines !== undefined && announced >= EARLY.leastBytes;
    const end = (error?: unknown): void => {
      request.off('data', onData).off('end', onEnd).off('error', end).off('aborted', onAborted);
      if (error !== undefined) request.resume();
      if (handedOn !== undefined) handedOn.end(error);
      else {
        if (error === undefined) {
          request.body = body.bytes();
          hashes.set(request, body.sha256());
        }
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
    const onAborted = (): void => end(new Problem('broken-off', 'The transfer broke off before its end. Send it again.'));
    request.on('data', onData).on('end', onEnd).on('error', end).on('aborted', onAborted);
  };
}

const hashes = new WeakMap<Request, string>();
/** The SHA-256 of a capture's body, hexadecimal. */
export const bodyHash = (request: Request): string => hashes.get(request) ?? createHash('sha256').digest('hex');

/** A capture that is stored is known by its id; a calculation has nobody who asks for its place. */
const keyOf = (request: Request): string => String(request.params.traceId ?? '').toLowerCase();

const tooLarge = (limit: number): object => ({ type: 'entity.too.large', limit });

/** Chunks of this many bytes are let go of together. */
const DROP_BYTES = 8_000_000;

/** Bytes in shared memory that grow as they come in. */
class Growing {
  length = 0;
  #sinceDrop = 0;
  #memory: Buffer<SharedArrayBuffer>;
  /** made as the bytes come: over all of them at once it would hold the server up for a second */
  readonly #hash: Hash | undefined;

  constructor(expected: number, isHashed: boolean) {
    this.#hash = isHashed ? createHash('sha256') : undefined;
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
    this.#hash?.update(chunk);
    this.length += chunk.length;
    this.#sinceDrop += chunk.length;
    if (this.#sinceDrop < DROP_BYTES) return;
    this.#sinceDrop = 0;
    dropChunks();
  }

  sha256(): string {
    return this.#hash?.digest('hex') ?? '';
  }

  /** @param length - of all, where some are still to come */
  bytes(length = this.length): Buffer {
    return Buffer.from(this.#memory.buffer, 0, length);
  }
}
