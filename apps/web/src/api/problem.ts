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

/** Turns an error of a query or mutation into words. */
export function problemWords(error: unknown): ProblemWords {
  const { status, data } = (error ?? {}) as { status?: number | string; data?: unknown };
  const body = (typeof data === 'string' ? parsed(data) : data) as { detail?: string; errors?: Fault[]; current?: unknown } | undefined;
  if (typeof status !== 'number') return { status: 0, text: NOT_REACHED, faults: [] };
  return {
    status,
    text: body?.detail ?? NOT_REACHED,
    faults: body?.errors ?? [],
    ...(body?.current === undefined ? {} : { current: body.current }),
  };
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
