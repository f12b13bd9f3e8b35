import { Piscina } from 'piscina';
import { Problem } from './problem.ts';
import { threadCode } from './threadCode.ts';

export interface ThreadsOptions {
  /** of the task's module, without its ending */
  code: URL;
  threads: number;
  /** a thread that had nothing to do for so long ends */
  idleMs: number;
  /** a task that takes longer is ended; its wait for a thread does not count */
  taskMs: number;
  /** tasks that wait for a thread; more are turned away */
  waiting: number;
  /** of a thread's own objects, in MB; bytes outside of its heap are not among them */
  heapMb?: number;
  /** threads that stay, whatever there is to do */
  least?: number;
  words: {
    /** too many wait */
    busy: string;
    /** a task took too long, or too much memory */
    tooMuch: string;
    /** whoever asked has gone */
    gone: string;
  };
}

/** Threads for one kind of task. A thread that dies takes its own task along, and nothing else. */
export interface Threads<Ask, Answer> {
  /**
   * @param signal - ends the task when nobody waits for it any more
   * @param options.isFollowing - goes on with what another task began: it is never turned away
   * @throws {Problem} 503 with too many waiting, 422 for one that takes too long or too much memory, 499 where whoever asked has gone
   */
  run: (ask: Ask, signal?: AbortSignal, options?: { isFollowing?: boolean }) => Promise<Answer>;
  /** whether a thread is there */
  isWarm: () => boolean;
  close: () => Promise<void>;
}

/** How large tasks are handed over: those in shared memory are read where they are, others are copied. */
export function startThreads<Ask extends object | string, Answer>(options: ThreadsOptions): Threads<Ask, Answer> {
  const { code, threads, idleMs, taskMs, waiting, heapMb, least = 0, words } = options;
  const pool = new Piscina<Ask, Answer>({
    ...threadCode(code),
    minThreads: least,
    maxThreads: threads,
    concurrentTasksPerWorker: 1,
    idleTimeout: idleMs,
    ...(heapMb === undefined ? {} : { resourceLimits: { maxOldGenerationSizeMb: heapMb } }),
  });
  // A thread that dies is told to whoever waits for it; said once more with nobody listening, it would end the server.
  pool.on('error', () => undefined);
  /** Who goes on with something goes first; among themselves each waits its turn. */
  const queues = { following: [] as (() => void)[], fresh: [] as (() => void)[] };
  let running = 0;

  /** Waits for a thread. @returns what gives it back */
  async function turn(signal: AbortSignal | undefined, isFollowing: boolean): Promise<() => void> {
    if (running >= threads) {
      const queue = queues[isFollowing ? 'following' : 'fresh'];
      if (!isFollowing && queue.length >= waiting) throw new Problem('too-busy', words.busy);
      await new Promise<void>((resolve, reject) => {
        const go = (): void => {
          signal?.removeEventListener('abort', leave);
          resolve();
        };
        const leave = (): void => {
          queue.splice(queue.indexOf(go), 1);
          reject(new Problem('client-gone', words.gone));
        };
        signal?.addEventListener('abort', leave, { once: true });
        queue.push(go);
      });
    }
    running += 1;
    return () => {
      running -= 1;
      (queues.following.shift() ?? queues.fresh.shift())?.();
    };
  }

  return {
    run: async (ask, signal, { isFollowing = false } = {}) => {
      const done = await turn(signal, isFollowing);
      const timeOut = AbortSignal.timeout(taskMs);
      try {
        return await pool.run(ask, { signal: signal === undefined ? timeOut : AbortSignal.any([signal, timeOut]) });
      } catch (error) {
        const { name, code: reason } = (error ?? {}) as { name?: string; code?: string };
        if (timeOut.aborted || reason === 'ERR_WORKER_OUT_OF_MEMORY') throw new Problem('too-much', words.tooMuch);
        if (name === 'AbortError') throw new Problem('client-gone', words.gone);
        throw error;
      } finally {
        done();
      }
    },
    isWarm: () => pool.threads.length > 0,
    close: () => pool.destroy(),
  };
}
