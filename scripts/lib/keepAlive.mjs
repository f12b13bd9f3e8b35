/** Three deaths within a minute have a reason that starting again does not mend. */
const MAX_DEATHS = 3;
const WITHIN_MS = 60_000;
const FIRST_REST_MS = 500;
const LOOK_EVERY_MS = 500;

/** Counts deaths. `next` gives the rest before the next start, which grows; undefined where it is enough. */
keepAlive.counter = (now = Date.now) => {
  let deaths = [];
  return {
    next: () => {
      deaths = [...deaths.filter((at) => now() - at < WITHIN_MS), now()];
      return deaths.length >= MAX_DEATHS ? undefined : FIRST_REST_MS * 4 ** (deaths.length - 1);
    },
  };
};

/**
 * Looks after something that is to run: starts it again when it dies, with growing rests, until it dies too often.
 *
 * @returns { stop }: it is no longer looked after
 */
export function keepAlive({ isAlive, start, onDeath, onGivenUp }) {
  const deaths = keepAlive.counter();
  let isStopped = false;
  const look = async () => {
    if (isStopped) return;
    if (!isAlive()) {
      const rest = deaths.next();
      if (rest === undefined) {
        isStopped = true;
        onGivenUp();
        return;
      }
      onDeath(rest);
      await new Promise((resolve) => setTimeout(resolve, rest));
      // Where it does not start it is found dead at the next look, which counts.
      if (!isStopped) await start().catch(() => undefined);
    }
    setTimeout(look, LOOK_EVERY_MS);
  };
  setTimeout(look, LOOK_EVERY_MS);
  return {
    stop: () => {
      isStopped = true;
    },
  };
}
