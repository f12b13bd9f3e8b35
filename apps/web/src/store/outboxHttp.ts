import type { SavedMark } from '@yield/contract';
import { deviceId, deviceName } from '../api/device.ts';
import { refusalOf } from '../api/problem.ts';
import type { OutboxEntry, Refusal } from './outbox.ts';

/** What became of an entry that was sent. */
export type Sent =
  /** `changes`: the tune's count of changes with it, where it changed anything */
  | { kind: 'stored'; answer?: unknown; takenAt?: string; clockAheadMs?: number; changes?: number }
  /** for good: trying again changes nothing */
  | ({ kind: 'refused'; current?: unknown; clockAheadMs?: number } & Refusal)
  /** nobody answered, or somebody who cannot now: to be tried again */
  | { kind: 'unreached'; isServerUp: boolean };

/** Not now, but later perhaps: a door that opens, a slow line, too much at once. */
const LATER = new Set([401, 408, 425, 429]);

/** Sends one entry. Sent twice it is done once, with the same answer. */
export async function sendEntry(entry: OutboxEntry, bytes: Uint8Array<ArrayBuffer> | undefined): Promise<Sent> {
  if (entry.kind === 'trace' && bytes === undefined)
    return { kind: 'refused', reason: 'This browser no longer has the file. Drop it again.' };
  let response: Response;
  const sentAt = Date.now();
  try {
    response = await call(entry, bytes, sentAt);
  } catch {
    return { kind: 'unreached', isServerUp: false };
  }
  // 503 says that the database does not answer: for whoever waits that is the same as no server.
  if (response.status >= 500 || LATER.has(response.status)) return { kind: 'unreached', isServerUp: response.status !== 503 };
  const clock = clockOf(response, sentAt);
  const body: unknown = response.status === 204 ? undefined : await response.json().catch(() => undefined);
  if (response.ok) return { kind: 'stored', ...clock, ...changesOf(response), ...answerOf(entry, body) };
  const { text: reason, faults, current } = refusalOf(response.status, body);
  // The answer to an earlier try was lost on its way: what is stored is what was sent.
  if (entry.kind === 'mark' && response.status === 409 && current !== undefined && isSameMark(entry, current as SavedMark))
    return { kind: 'stored', ...clock, answer: current };
  if (entry.kind === 'mark' && response.status === 409 && current !== undefined) {
    // What is stored is an earlier tick of this very queue: this one comes after it.
    const { earlier = [], ...mark } = entry;
    const kept = current as SavedMark;
    if (earlier.some((each) => isSameMark({ ...mark, body: each }, kept)))
      return sendEntry({ ...mark, body: { ...mark.body, version: kept.version } }, bytes);
  }
  if (response.status === 409) return { kind: 'refused', ...clock, reason, current, hasMet: true };
  return { kind: 'refused', ...clock, reason, ...(faults.length === 0 ? {} : { faults }) };
}

function call(entry: OutboxEntry, bytes: Uint8Array<ArrayBuffer> | undefined, sentAt: number): Promise<Response> {
  const tune = `/api/v1/tunes/${entry.tuneId}`;
  const json = (method: string, address: string, body?: unknown): Promise<Response> =>
    fetch(address, {
      method,
      headers: { ...sender(sentAt, entry), ...(body === undefined ? {} : { 'content-type': 'application/json' }) },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  switch (entry.kind) {
    case 'reading':
      return json('PUT', `${tune}/readings/${entry.id}`, entry.reading);
    case 'mark':
      return json('PUT', `${tune}/marks/${entry.stepId}`, entry.body);
    case 'edit':
      return json('PUT', `${tune}/edits/${entry.id}`, { kind: entry.of, seen: entry.seen, changes: entry.changes });
    case 'void': {
      const target = `${tune}/${entry.of === 'reading' ? 'readings' : 'traces'}/${entry.targetId}`;
      return entry.reason === null ? json('POST', `${target}/restore`) : json('POST', `${target}/void`, { reason: entry.reason });
    }
    case 'trace': {
      const query = new URLSearchParams(Object.entries(entry.upload).map(([key, value]) => [key, String(value)]));
      return fetch(`${tune}/traces/${entry.id}?${query.toString()}`, {
        method: 'PUT',
        headers: { ...sender(sentAt, entry), 'content-type': entry.contentType },
        body: bytes ?? new Uint8Array(),
      });
    }
  }
}

/** How many large captures are taken in before this one, which is being sent; undefined where it does not wait. */
export async function placeOf({ tuneId, id }: Pick<OutboxEntry, 'tuneId' | 'id'>): Promise<number | undefined> {
  try {
    const response = await fetch(`/api/v1/tunes/${tuneId}/traces/${id}/place`);
    return response.ok ? ((await response.json()) as { before: number }).before : undefined;
  } catch {
    return undefined;
  }
}

/** What this device's clock shows, the name that it was given, and the place of the entry among all that it ever sent. */
const sender = (sentAt: number, { queuedAt }: Pick<OutboxEntry, 'queuedAt'>): Record<string, string> => {
  const name = deviceName();
  return {
    'yield-sent-at': new Date(sentAt).toISOString(),
    ...(queuedAt === undefined ? {} : { 'yield-device': deviceId(), 'yield-count': String(queuedAt) }),
    ...(name === '' ? {} : { 'yield-who': encodeURIComponent(name) }),
  };
};

function answerOf(entry: OutboxEntry, body: unknown): { answer?: unknown; takenAt?: string } {
  if (entry.kind !== 'reading') return body === undefined ? {} : { answer: body };
  const { takenAt } = (body ?? {}) as { takenAt?: string };
  return takenAt === undefined ? {} : { takenAt };
}

function isSameMark({ body }: OutboxEntry & { kind: 'mark' }, kept: SavedMark): boolean {
  const told = ({ checks, basis, values, skippedReason }: Omit<SavedMark, 'stepId'>): string =>
    JSON.stringify([[...checks].sort(), basis ?? null, Object.entries(values ?? {}).sort(), skippedReason ?? null]);
  return told(body) === told(kept);
}

function changesOf(response: Response): { changes?: number } {
  const changes = Number(response.headers.get('yield-changes') ?? NaN);
  return Number.isNaN(changes) ? {} : { changes };
}

/** How far this device's clock is ahead of the server's, to a second. */
function clockOf(response: Response, sentAt: number): { clockAheadMs?: number } {
  const there = Date.parse(response.headers.get('date') ?? '');
  return Number.isNaN(there) ? {} : { clockAheadMs: sentAt - there };
}
