import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type {
  ArchivedTune,
  NewTune,
  SaveChain,
  SaveShop,
  SaveTune,
  ShopSettings,
  TuneDetail,
  TuneHead,
  TuneListQuery,
  TuneListRow,
} from '@yield/contract';
import type { Chain } from '@yield/core';

/** Reads, and edits that want an answer at once. Readings, captures, ticks and voids go through the outbox instead, so that none is lost. */
export const yieldApi = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/v1' }),
  tagTypes: ['list', 'tune', 'shop'],
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
    saveTune: build.mutation<TuneHead, { id: string; body: SaveTune }>({
      query: ({ id, body }) => ({ url: `/tunes/${id}`, method: 'PUT', body }),
      invalidatesTags: (_result, error, { id }) => (error === undefined ? ['list', { type: 'tune', id }] : []),
    }),
    deleteTune: build.mutation<void, string>({ query: (id) => ({ url: `/tunes/${id}`, method: 'DELETE' }), invalidatesTags: ['list'] }),
    restoreTune: build.mutation<void, string>({
      query: (id) => ({ url: `/tunes/${id}/restore`, method: 'POST' }),
      invalidatesTags: ['list'],
    }),
    saveChain: build.mutation<{ version: number; body: Chain }, { id: string; body: SaveChain }>({
      query: ({ id, body }) => ({ url: `/tunes/${id}/chain`, method: 'PUT', body }),
      invalidatesTags: (_result, error) => (error === undefined ? ['list'] : []),
      onQueryStarted: async ({ id }, { dispatch, queryFulfilled }) => {
        const saved = await queryFulfilled.catch(() => null);
        if (saved === null) return;
        dispatch(
          yieldApi.util.updateQueryData('readTune', id, (tune) => {
            tune.chain = saved.data;
          }),
        );
      },
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
  useSaveTuneMutation,
  useDeleteTuneMutation,
  useRestoreTuneMutation,
  useSaveChainMutation,
  useLoadDemoMutation,
} = yieldApi;
