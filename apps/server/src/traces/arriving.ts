import type { Arrival } from '@yield/core';
import type { Request } from 'express';

const BROKEN_OFF = -1;
/** A thread that is woken for less has hardly begun when it waits again. */
const WAKE_BYTES = 1 << 18;

/** A body that is read by a thread while it still comes in. */
export class Arriving {
  /** in shared memory: the bytes that are there, or −1 once no more come than there are */
  readonly count = new Int32Array(new SharedArrayBuffer(4));
  /** settles with the last byte; rejects where the transfer breaks off or is refused */
  readonly ended: Promise<void>;
  #woken = 0;
  #settle: (error: Error | undefined) => void = () => undefined;

  constructor(bytes: number) {
    this.ended = new Promise((resolve, reject) => {
      this.#settle = (error) => (error === undefined ? resolve() : reject(error));
    });
    // Whoever took the body may have answered already: then nobody asks for its end.
    this.ended.catch(() => undefined);
    this.tell(bytes);
  }

  /** Tells the threads how much has come. */
  tell(bytes: number): void {
    Atomics.store(this.count, 0, bytes);
    if (bytes - this.#woken < WAKE_BYTES) return;
    this.#woken = bytes;
    Atomics.notify(this.count, 0);
  }

  end(error?: unknown): void {
    if (error !== undefined) Atomics.store(this.count, 0, BROKEN_OFF);
    Atomics.notify(this.count, 0);
    this.#settle(error as Error | undefined);
  }
}

/** A transfer that rests for longer holds no thread: the capture is read once all of it is there. */
const LONGEST_REST_MS = 300;

/** The bytes come too slowly to wait for, or no more of them. */
export class Starved extends Error {}

/** On the thread: waits for bytes. */
export const arrivalFrom = (count: Int32Array<SharedArrayBuffer>): Arrival => ({
  until: (wanted) => {
    for (;;) {
      const there = Atomics.load(count, 0);
      if (there === BROKEN_OFF) throw new Starved();
      if (there >= wanted) return there;
      if (Atomics.wait(count, 0, there, LONGEST_REST_MS) === 'timed-out') throw new Starved();
    }
  },
});

const arrivals = new WeakMap<Request, Arriving>();
export const setArrival = (request: Request, arriving: Arriving): unknown => arrivals.set(request, arriving);
/** Of a body that is handed on before its end. */
export const arrivalOf = (request: Request): Arriving | undefined => arrivals.get(request);
