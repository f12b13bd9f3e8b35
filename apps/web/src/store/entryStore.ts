import { del, entries, get, set } from 'idb-keyval';
import type { OutboxEntry } from './outbox.ts';

const ENTRY = 'outbox:';
const BYTES = 'bytes:';
/** Where an entry stands, at once, until the browser's database has it: a page may go before that has answered. */
const JUST_ENTERED = 'yield.entered:';

/** Keeps an entry for the next visit. @throws where the browser's database does not take it */
export async function keepEntry(entry: OutboxEntry): Promise<void> {
  note(entry);
  await set(`${ENTRY}${entry.id}`, entry);
  strike(entry.id);
}

export async function forgetEntry(id: string): Promise<void> {
  held.delete(id);
  strike(id);
  await Promise.allSettled([del(`${ENTRY}${id}`), del(`${BYTES}${id}`)]);
}

/** Entries that an earlier visit could not send, in their order. */
export async function findEntries(): Promise<OutboxEntry[]> {
  const all = await entries<string, OutboxEntry>().catch(() => []);
  const kept = all.filter(([key]) => typeof key === 'string' && key.startsWith(ENTRY)).map(([, entry]) => entry);
  // What the database has is what became of the entry since.
  const noted = notes().filter(({ id }) => !kept.some((entry) => entry.id === id));
  await Promise.allSettled(noted.map(keepEntry));
  return [...kept, ...noted];
}

/** Bytes of captures that the browser's database did not take: they live as long as the page. */
const held = new Map<string, Uint8Array<ArrayBuffer>>();

/** Keeps the bytes of a capture until the server has them. */
export async function keepBytes(id: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
  held.set(id, bytes);
  await set(`${BYTES}${id}`, bytes).then(() => held.delete(id));
}

/** The bytes of a capture that waits here; undefined where there are none. */
export async function bytesOf(entry: OutboxEntry): Promise<Uint8Array<ArrayBuffer> | undefined> {
  if (entry.kind !== 'trace') return undefined;
  return held.get(entry.id) ?? (await get<Uint8Array<ArrayBuffer>>(`${BYTES}${entry.id}`).catch(() => undefined));
}

function note(entry: OutboxEntry): void {
  try {
    localStorage.setItem(`${JUST_ENTERED}${entry.id}`, JSON.stringify(entry));
  } catch {
    // The database may take it all the same, and says so where it does not.
  }
}

function strike(id: string): void {
  try {
    localStorage.removeItem(`${JUST_ENTERED}${id}`);
  } catch {
    // Nothing stands there either.
  }
}

function notes(): OutboxEntry[] {
  try {
    const keys = Object.keys(localStorage).filter((key) => key.startsWith(JUST_ENTERED));
    return keys.map((key) => JSON.parse(localStorage.getItem(key) ?? '') as OutboxEntry);
  } catch {
    return [];
  }
}
