import {
  createApi,
  fetchBaseQuery,
  type BaseQueryFn,
  type FetchArgs,
  type FetchBaseQueryError,
  type FetchBaseQueryMeta,
} from '@reduxjs/toolkit/query/react';
import type {
  SaveTune,
  ArchivedTune,
  GearRow,
  HistoryRow,
  KnownKeys,
  NameKey,
  NewTune,
  SaveGear,
  SaveShop,
  ShopSettings,
  SignedSheet,
  SignSheet,
  TuneDetail,
  TuneListQuery,
  TuneListRow,
} from '@yield/contract';
import type { Chain } from '@yield/core';
import { connectionSeen } from './connection.ts';
import { deviceName } from './device.ts';
import { keepList, keepShop, keepTune, seenList, seenShop, seenTune } from './lastSeen.ts';

const live = fetchBaseQuery({
  baseUrl: '/api/v1',
  prepareHeaders: (headers) => {
    const name = deviceName();
    if (name !== '') headers.set('yield-who', encodeURIComponent(name));
  },
});

/** What this browser saw last, where the server cannot be asked: the work goes on from it. */
const liveOrSeen: BaseQueryFn<string | FetchArgs, unknown, FetchBaseQueryError, object, FetchBaseQueryMeta> = async (args, api, extra) => {
  const result = await live(args, api, extra);
  const isAway = result.error !== undefined && (result.error.status === 'FETCH_ERROR' || result.error.status === 503);
  if (!isAway) {
    if (api.signal.aborted) return result;
    api.dispatch(connectionSeen('up'));
    if (result.error === undefined) keepAnswer(api.endpoint, args, result.data);
    return result;
  }
  api.dispatch(connectionSeen('down'));
  const seen = await seenAnswer(api.endpoint, args);
  return seen === undefined ? result : { data: seen };
};

function keepAnswer(endpoint: string, args: string | FetchArgs, data: unknown): void {
  if (endpoint === 'readTune') void keepTune(data as TuneDetail);
  if (endpoint === 'readShop') void keepShop(data as ShopSettings);
  const { params } = typeof args === 'string' ? { params: undefined } : args;
  if (endpoint === 'listTunes' && params?.search === undefined) void keepList(data as TuneListRow[]);
}

async function seenAnswer(endpoint: string, args: string | FetchArgs): Promise<unknown> {
  if (endpoint === 'readTune' && typeof args === 'string') return seenTune(args.split('/').at(-1) ?? '');
  if (endpoint === 'readShop') return seenShop();
  if (endpoint !== 'listTunes' || typeof args === 'string') return undefined;
  const sought = ((args.params as { search?: string } | undefined)?.search ?? '').toLowerCase();
  return (await seenList())?.filter(({ name, vehicle }) => `${name} ${vehicle}`.toLowerCase().includes(sought));
}

/** So many entries of a tune's record are read at a time. */
export const HISTORY_PAGE = 50;

/** Reads, and what wants an answer at once. Readings, captures, ticks, voids and edits go through the outbox instead, so that none is lost. */
export const yieldApi = createApi({
  reducerPath: 'api',
  baseQuery: liveOrSeen,
  tagTypes: ['list', 'tune', 'shop', 'sheets', 'gear', 'keys'],
  // A tune may have been changed in another window.
  refetchOnFocus: true,
  refetchOnReconnect: true,
  endpoints: (build) => ({
    listTunes: build.query<{ rows: TuneListRow[]; total: number }, TuneListQuery>({
      query: (params) => ({ url: '/tunes', params }),
      transformResponse: (rows: TuneListRow[], meta) => ({
        rows,
        total: Number(meta?.response?.headers.get('x-total-count') ?? rows.length),
      }),
      providesTags: ['list'],
      keepUnusedDataFor: 0,
    }),
    readTune: build.query<TuneDetail, string>({
      query: (id) => `/tunes/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'tune', id }],
    }),
    listArchive: build.query<ArchivedTune[], void>({ query: () => '/tunes/archive', providesTags: ['list'] }),
    copyTune: build.mutation<TuneDetail, { id: string; body: NewTune }>({
      query: ({ id, body }) => ({ url: `/tunes/${id}/copy`, method: 'POST', body }),
      invalidatesTags: ['list'],
    }),
    readShop: build.query<ShopSettings, void>({ query: () => '/shop', providesTags: ['shop'] }),
    saveShop: build.mutation<ShopSettings, SaveShop>({
      query: (body) => ({ url: '/shop', method: 'PUT', body }),
      invalidatesTags: ['shop'],
    }),
    createTune: build.mutation<TuneDetail, NewTune>({
      query: (body) => ({ url: '/tunes', method: 'POST', body }),
      invalidatesTags: ['list'],
    }),
    deleteTune: build.mutation<void, string>({ query: (id) => ({ url: `/tunes/${id}`, method: 'DELETE' }), invalidatesTags: ['list'] }),
    restoreTune: build.mutation<void, string>({
      query: (id) => ({ url: `/tunes/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['list'],
    }),
    readHistory: build.query<HistoryRow[], { id: string; before?: number; changes: number }>({
      query: ({ id, before }) => ({
        url: `/tunes/${id}/history`,
        params: { limit: HISTORY_PAGE, ...(before === undefined ? {} : { before }) },
      }),
    }),
    readRevision: build.query<{ version: number; body: Chain }, { id: string; version: number }>({
      query: ({ id, version }) => `/tunes/${id}/chain/${version}`,
    }),
    listGear: build.query<GearRow[], void>({ query: () => '/gear', providesTags: ['gear'], keepUnusedDataFor: 5 }),
    saveGear: build.mutation<GearRow, { id: string; body: SaveGear }>({
      query: ({ id, body }) => ({ url: `/gear/${id}`, method: 'PUT', body }),
      invalidatesTags: ['gear'],
    }),
    removeGear: build.mutation<void, string>({ query: (id) => ({ url: `/gear/${id}`, method: 'DELETE' }), invalidatesTags: ['gear'] }),
    saveChain: build.mutation<{ version: number; body: Chain }, { id: string; version: number; chain: Chain }>({
      query: ({ id, ...body }) => ({ url: `/tunes/${id}/chain`, method: 'PUT', body }),
      invalidatesTags: (_result, _error, { id }) => ['list', { type: 'tune', id }],
    }),
    saveTune: build.mutation<unknown, { id: string; body: SaveTune }>({
      query: ({ id, body }) => ({ url: `/tunes/${id}`, method: 'PUT', body }),
      invalidatesTags: (_result, _error, { id }) => ['list', { type: 'tune', id }],
    }),
    listSheets: build.query<SignedSheet[], string>({
      query: (id) => `/tunes/${id}/sheets`,
      providesTags: (_result, _error, id) => [{ type: 'sheets', id }],
    }),
    signSheet: build.mutation<SignedSheet, { id: string; body: SignSheet }>({
      query: ({ id, body }) => ({ url: `/tunes/${id}/sheets`, method: 'POST', body }),
      invalidatesTags: (_result, _error, { id }) => [
        { type: 'sheets', id },
        { type: 'tune', id },
      ],
    }),
    listKeys: build.query<KnownKeys, void>({ query: () => '/keys', providesTags: ['keys'] }),
    nameKey: build.mutation<KnownKeys, NameKey>({
      query: (body) => ({ url: '/keys', method: 'PUT', body }),
      // Names stand beside what was signed.
      invalidatesTags: ['keys', 'sheets', 'tune'],
    }),
    loadDemo: build.mutation<{ added: number }, void>({ query: () => ({ url: '/demo', method: 'POST' }), invalidatesTags: ['list'] }),
  }),
});

export const {
  useListTunesQuery,
  useReadTuneQuery,
  useListArchiveQuery,
  useCopyTuneMutation,
  useReadShopQuery,
  useSaveShopMutation,
  useCreateTuneMutation,
  useReadHistoryQuery,
  useReadRevisionQuery,
  useListGearQuery,
  useSaveGearMutation,
  useRemoveGearMutation,
  useSaveChainMutation,
  useSaveTuneMutation,
  useListSheetsQuery,
  useSignSheetMutation,
  useDeleteTuneMutation,
  useRestoreTuneMutation,
  useLoadDemoMutation,
  useListKeysQuery,
  useNameKeyMutation,
} = yieldApi;
