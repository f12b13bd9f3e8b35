import { del, entries, get, set } from 'idb-keyval';
import type { OutboxEntry } from './outbox.ts';

const ENTRY = 'outbox:';
const BYTES = 'bytes:';
/** Where an entry stands, at once, until the browser's database has it: a page may go before that has answered. */
const JUST_ENTERED = 'yield.entered:';

/** Keeps an entry for the next visit. @throws where the browser's database does not take it */
export async function keepEntry(entry: OutboxEntry): Promise<void> {
  const noted = note(entry);
  await set(`${ENTRY}${entry.id}`, entry);
  // What was noted since is not in the database yet.
  strike(entry.id, noted);
}

/** Lets go of an entry, its note and its bytes. */
export async function forgetEntry(id: string): Promise<void> {
  held.delete(id);
  strike(id);
  await Promise.allSettled([del(`${ENTRY}${id}`), del(`${BYTES}${id}`)]);
}

/** Entries that an earlier visit could not send, in their order. */
export async function findEntries(): Promise<OutboxEntry[]> {
  const all = await entries<string, OutboxEntry>().catch(() => []);
  const kept = all.filter(([key]) => typeof key === 'string' && key.startsWith(ENTRY)).map(([, entry]) => entry);
  // A note goes once the database has taken it: where there is one, it is the newer.
  const noted = notes();
  await Promise.allSettled(noted.map(keepEntry));
  return [...kept.filter(({ id }) => !noted.some((entry) => entry.id === id)), ...noted];
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

/** @returns what was written */
function note(entry: OutboxEntry): string {
  const text = JSON.stringify(entry);
  try {
    localStorage.setItem(`${JUST_ENTERED}${entry.id}`, text);
  } catch {
    // The database may take it all the same, and says so where it does not.
  }
  return text;
}

/** @param text - only this note, not a later one */
function strike(id: string, text?: string): void {
  try {
    const key = `${JUST_ENTERED}${id}`;
    if (text === undefined || localStorage.getItem(key) === text) localStorage.removeItem(key);
  } catch {
    // Nothing stands there either.
  }
}

/** A note that cannot be read hides no other one. */
function entryIn(text: string | null): OutboxEntry[] {
  try {
    return [JSON.parse(text ?? '') as OutboxEntry];
  } catch {
    return [];
  }
}

function notes(): OutboxEntry[] {
  try {
    const keys = Object.keys(localStorage).filter((key) => key.startsWith(JUST_ENTERED));
    return keys.flatMap((key) => entryIn(localStorage.getItem(key)));
  } catch {
    return [];
  }
}
