import type { TuneDetail, TuneListRow, ShopSettings } from '@yield/contract';
import { del, get, keys, set } from 'idb-keyval';

// What this browser saw last of the server: the tunes that were opened, the list, the shop. Without a server the work goes on from it.

const SEEN = 'seen:';
const TUNE = `${SEEN}tune/`;
/** So many tunes are kept; the one that was opened the longest ago goes first. */
const MAX_TUNES = 30;

interface SeenTune {
  at: number;
  tune: TuneDetail;
}

/** Keeps what was seen; a browser that refuses goes without. */
export async function keepTune(tune: TuneDetail): Promise<void> {
  await set(`${TUNE}${tune.id}`, { at: Date.now(), tune } satisfies SeenTune).catch(() => undefined);
}

export async function seenTune(id: string): Promise<TuneDetail | undefined> {
  return (await get<SeenTune>(`${TUNE}${id}`).catch(() => undefined))?.tune;
}

export const keepList = (rows: readonly TuneListRow[]): Promise<void> => set(`${SEEN}list`, rows).catch(() => undefined);
export const seenList = (): Promise<TuneListRow[] | undefined> => get<TuneListRow[]>(`${SEEN}list`).catch(() => undefined);
export const keepShop = (shop: ShopSettings): Promise<void> => set(`${SEEN}shop`, shop).catch(() => undefined);
export const seenShop = (): Promise<ShopSettings | undefined> => get<ShopSettings>(`${SEEN}shop`).catch(() => undefined);

/** Lets go of the tunes that were opened the longest ago. */
export async function pruneTunes(): Promise<void> {
  const all = (await keys<string>()).filter((key) => typeof key === 'string' && key.startsWith(TUNE));
  if (all.length <= MAX_TUNES) return;
  const times = await Promise.all(all.map(async (key) => ({ key, at: (await get<SeenTune>(key))?.at ?? 0 })));
  const old = times.sort((a, b) => b.at - a.at).slice(MAX_TUNES);
  await Promise.all(old.map(({ key }) => del(key)));
}
