import type { Fault } from '@yield/core';

/** A refusal of the server, or its absence, in words for the screen. */
export interface ProblemWords {
  status: number;
  text: string;
  faults: Fault[];
  /** what is stored now, where a stale save was refused */
  current?: unknown;
}

export const NOT_REACHED = 'The server does not answer. Is Yield still running? What you entered is kept in this browser.';

/**
 * What the server said when it refused, in words. Everything that talks to it goes through here: queries, the queue and archives.
 *
 * @param status - of the answer; anything but a number where there was none
 * @param data - the body, parsed or as text
 */
export function refusalOf(status: unknown, data: unknown): ProblemWords {
  if (typeof status !== 'number') return { status: 0, text: NOT_REACHED, faults: [] };
  const {
    detail,
    errors = [],
    current,
  } = ((typeof data === 'string' ? parsed(data) : data) ?? {}) as {
    detail?: string;
    errors?: Fault[];
    current?: unknown;
  };
  // An answer without words is none of ours: a proxy, or a server that is just going down.
  return { status, text: detail ?? NOT_REACHED, faults: errors, ...(current === undefined ? {} : { current }) };
}

/** Turns an error of a query or mutation into words. */
export function problemWords(error: unknown): ProblemWords {
  const { status, data } = (error ?? {}) as { status?: number | string; data?: unknown };
  return refusalOf(status, data);
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
