import type { Response } from 'express';

/** A signal for work that is only wanted as long as somebody waits for its answer. */
export function untilGone(response: Response): AbortSignal {
  const gone = new AbortController();
  response.once('close', () => {
    if (!response.writableFinished) gone.abort();
  });
  return gone.signal;
}
