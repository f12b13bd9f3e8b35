import { Problem } from '../problem.ts';

/** Small captures come in beside the large ones. */
const SMALL_BYTES = 8_000_000;
/** So many that wait are turned away. */
const MAX_WAITING = 64;

interface Waiting {
  key: string;
  bytes: number;
  go: () => void;
}

/**
 * Lets large captures in as far as there is memory for them; the others wait their turn, unread, in the order in which they came.
 *
 * A capture takes several times its size while it is read and judged: ten large ones at once would take what the machine has.
 */
export class Admission {
  readonly #budget: number;
  readonly #queue: Waiting[] = [];
  #inside = 0;

  constructor(budgetBytes: number) {
    this.#budget = budgetBytes;
  }

  /**
   * Waits until there is room.
   *
   * @param key - by which its place is asked for
   * @returns what gives the room back
   * @throws {Problem} 503 where too many wait already, 499 where whoever sends it has gone
   */
  async enter(key: string, bytes: number, gone: AbortSignal): Promise<() => void> {
    const counted = Math.min(bytes, this.#budget);
    if (counted > SMALL_BYTES && (this.#queue.length > 0 || this.#inside + counted > this.#budget)) await this.#turn(key, counted, gone);
    else this.#inside += counted;
    let isLeft = false;
    return () => {
      if (isLeft) return;
      isLeft = true;
      this.#inside -= counted;
      this.#next();
    };
  }

  /** How many wait before it, and how many in all; undefined of one that does not wait. */
  placeOf(key: string): { before: number; waiting: number } | undefined {
    const before = this.#queue.findIndex((each) => each.key === key);
    return before === -1 ? undefined : { before, waiting: this.#queue.length };
  }

  #turn(key: string, bytes: number, gone: AbortSignal): Promise<void> {
    if (this.#queue.length >= MAX_WAITING)
      throw new Problem(
        'too-busy',
        `${this.#queue.length} large captures wait before this one. It is kept in this browser, and sent again in a moment.`,
      );
    return new Promise((resolve, reject) => {
      const waiting: Waiting = {
        key,
        bytes,
        go: () => {
          gone.removeEventListener('abort', leave);
          resolve();
        },
      };
      const leave = (): void => {
        this.#queue.splice(this.#queue.indexOf(waiting), 1);
        reject(new Problem('client-gone', 'The transfer was dropped before its turn came.'));
        this.#next();
      };
      gone.addEventListener('abort', leave, { once: true });
      this.#queue.push(waiting);
    });
  }

  #next(): void {
    for (;;) {
      const first = this.#queue[0];
      if (first === undefined || this.#inside + first.bytes > this.#budget) return;
      this.#queue.shift();
      this.#inside += first.bytes;
      first.go();
    }
  }
}
