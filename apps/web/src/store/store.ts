import { combineReducers, configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { useDispatch, useSelector, useStore } from 'react-redux';
import { yieldApi } from '../api/yieldApi.ts';
import { benchSlice } from './benchSlice.ts';
import { draftsSlice } from './drafts.ts';
import { entriesFound, outboxSlice } from './outbox.ts';
import { findEntries, outboxSender } from './outboxSender.ts';

const reducer = combineReducers({
  [yieldApi.reducerPath]: yieldApi.reducer,
  [outboxSlice.name]: outboxSlice.reducer,
  [draftsSlice.name]: draftsSlice.reducer,
  [benchSlice.name]: benchSlice.reducer,
});

export type RootState = ReturnType<typeof reducer>;

const KEPT = 'yield.kept';

/** The store, with what this browser kept from the last visit. */
export function newStore() {
  const store = configureStore({
    reducer,
    preloadedState: keptState(),
    middleware: (defaults) => defaults().concat(yieldApi.middleware).prepend(outboxSender().middleware),
  });
  setupListeners(store.dispatch);
  store.subscribe(() => {
    const { drafts, bench } = store.getState();
    keepState({ drafts, bench });
  });
  findEntries()
    .then((found) => store.dispatch(entriesFound(found)))
    .catch(() => undefined);
  return store;
}

type Kept = Pick<RootState, 'drafts' | 'bench'>;

function keptState(): Partial<Kept> {
  try {
    return JSON.parse(localStorage.getItem(KEPT) ?? '{}') as Partial<Kept>;
  } catch {
    return {};
  }
}

let lastKept: Kept | null = null;

function keepState(kept: Kept): void {
  if (lastKept !== null && lastKept.drafts === kept.drafts && lastKept.bench === kept.bench) return;
  lastKept = kept;
  try {
    localStorage.setItem(KEPT, JSON.stringify(kept));
  } catch {
    // A browser that keeps nothing: the work goes on, only a reload would cost what was typed.
  }
}

export type AppDispatch = ReturnType<typeof newStore>['dispatch'];
export const useAppDispatch = useDispatch.withTypes<AppDispatch>();
export const useAppStore = useStore.withTypes<ReturnType<typeof newStore>>();
export const useAppSelector = useSelector.withTypes<RootState>();
