import { combineReducers, configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import type { TuneDetail } from '@yield/contract';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { yieldApi } from '../api/yieldApi.ts';
import { benchSlice } from './benchSlice.ts';
import { draftsSlice } from './drafts.ts';
import { entriesFound, notePlaces, outboxSlice } from './outbox.ts';
import { keepTune, pruneTunes } from '../api/lastSeen.ts';
import { findEntries } from './entryStore.ts';
import { outboxSender } from './outboxSender.ts';

const reducer = combineReducers({
  [yieldApi.reducerPath]: yieldApi.reducer,
  [outboxSlice.name]: outboxSlice.reducer,
  [draftsSlice.name]: draftsSlice.reducer,
  [benchSlice.name]: benchSlice.reducer,
});

export type RootState = ReturnType<typeof reducer>;

/** The store, with what this browser kept from the last visit. */
export function newStore() {
  const store = configureStore({
    reducer,
    preloadedState: keptState(),
    middleware: (defaults) => defaults().concat(yieldApi.middleware).prepend(outboxSender().middleware),
  });
  setupListeners(store.dispatch);
  ({ drafts: lastDrafts, bench: lastBench } = store.getState());
  store.subscribe(() => {
    const { drafts, bench, api } = store.getState();
    keepDrafts(drafts);
    keepBench(bench);
    keepTunes(api.queries);
  });
  void pruneTunes().catch(() => undefined);
  findEntries()
    .then((found) => {
      notePlaces(found);
      return store.dispatch(entriesFound(found));
    })
    .catch(() => undefined);
  return store;
}

type Kept = Pick<RootState, 'drafts' | 'bench'>;

/** Where the version before kept all drafts as one text. */
const FORMER = 'yield.kept';
const BENCH = 'yield.bench';
const DRAFT = 'yield.draft:';

function keptState(): Partial<Kept> {
  try {
    const { drafts: former = {}, bench: formerBench } = JSON.parse(localStorage.getItem(FORMER) ?? '{}') as Partial<Kept>;
    for (const [key, text] of Object.entries(former)) localStorage.setItem(`${DRAFT}${key}`, text);
    if (formerBench !== undefined) localStorage.setItem(BENCH, JSON.stringify(formerBench));
    localStorage.removeItem(FORMER);
    const keys = Object.keys(localStorage).filter((key) => key.startsWith(DRAFT));
    const drafts = Object.fromEntries(keys.map((key) => [key.slice(DRAFT.length), localStorage.getItem(key) ?? '']));
    const bench = localStorage.getItem(BENCH);
    return { drafts, ...(bench === null ? {} : { bench: JSON.parse(bench) as RootState['bench'] }) };
  } catch {
    return {};
  }
}

let lastDrafts: RootState['drafts'] = {};
let lastBench: RootState['bench'] | undefined;
const lastTunes = new Map<string, unknown>();

/** Each draft under its own key: two windows that type in different fields leave each other's alone. */
function keepDrafts(drafts: RootState['drafts']): void {
  const before = lastDrafts;
  lastDrafts = drafts;
  if (before === drafts) return;
  try {
    for (const [key, text] of Object.entries(drafts)) if (before[key] !== text) localStorage.setItem(`${DRAFT}${key}`, text);
    for (const key of Object.keys(before)) if (!(key in drafts)) localStorage.removeItem(`${DRAFT}${key}`);
  } catch {
    // A browser that keeps nothing: the work goes on, only a reload would cost what was typed.
  }
}

function keepBench(bench: RootState['bench']): void {
  if (lastBench === bench) return;
  lastBench = bench;
  try {
    localStorage.setItem(BENCH, JSON.stringify(bench));
  } catch {
    // As above.
  }
}

/** A tune as it is shown, what was sent since it was read counted in: that is what the next visit without a server begins with. */
function keepTunes(queries: RootState['api']['queries']): void {
  for (const [key, query] of Object.entries(queries)) {
    if (query?.endpointName !== 'readTune' || query.data === undefined || lastTunes.get(key) === query.data) continue;
    const isFirst = !lastTunes.has(key);
    lastTunes.set(key, query.data);
    // As it was read it is kept already.
    if (!isFirst) void keepTune(query.data as TuneDetail);
  }
}

export type AppDispatch = ReturnType<typeof newStore>['dispatch'];
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppStore = useStore.withTypes<ReturnType<typeof newStore>>();
export const useAppSelector = useSelector.withTypes<RootState>();
