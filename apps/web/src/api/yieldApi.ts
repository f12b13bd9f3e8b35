import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type { NewTune, SaveChain, SavedMark, SaveMark, SaveTune, TuneDetail, TuneHead, TuneListRow } from '@yield/contract';
import type { Chain } from '@yield/core';

/** Reads and edits that want an answer at once. Readings and captures go through the outbox instead, so that none is lost. */
export const yieldApi = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/v1' }),
  tagTypes: ['list', 'tune'],
  // A tune may have been changed in another window.
  refetchOnFocus: true,
  refetchOnReconnect: true,
  endpoints: (build) => ({
    listTunes: build.query<TuneListRow[], void>({ query: () => '/tunes', providesTags: ['list'], keepUnusedDataFor: 0 }),
    readTune: build.query<TuneDetail, string>({
      query: (id) => `/tunes/${id}`,
      providesTags: (_result, _error, id) => [{ type: 'tune', id }],
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
    saveMark: build.mutation<SavedMark, { id: string; stepId: string; body: SaveMark }>({
      query: ({ id, stepId, body }) => ({ url: `/tunes/${id}/marks/${stepId}`, method: 'PUT', body }),
      // Shown at once; a refused save brings the stored state back.
      onQueryStarted: async ({ id, stepId, body }, { dispatch, queryFulfilled }) => {
        const patch = dispatch(
          yieldApi.util.updateQueryData('readTune', id, (tune) => {
            tune.marks = [...tune.marks.filter((m) => m.stepId !== stepId), { stepId, ...body }];
          }),
        );
        try {
          const { data } = await queryFulfilled;
          dispatch(
            yieldApi.util.updateQueryData('readTune', id, (tune) => {
              tune.marks = [...tune.marks.filter((m) => m.stepId !== stepId), data];
            }),
          );
        } catch {
          patch.undo();
          dispatch(yieldApi.util.invalidateTags([{ type: 'tune', id }]));
        }
      },
    }),
    voidReading: build.mutation<void, { id: string; readingId: string; reason: string }>({
      query: ({ id, readingId, reason }) => ({ url: `/tunes/${id}/readings/${readingId}/void`, method: 'POST', body: { reason } }),
      invalidatesTags: (_result, _error, { id }) => ['list', { type: 'tune', id }],
    }),
    voidTrace: build.mutation<void, { id: string; traceId: string; reason: string }>({
      query: ({ id, traceId, reason }) => ({ url: `/tunes/${id}/traces/${traceId}/void`, method: 'POST', body: { reason } }),
      invalidatesTags: (_result, _error, { id }) => ['list', { type: 'tune', id }],
    }),
    loadDemo: build.mutation<{ added: number }, void>({ query: () => ({ url: '/demo', method: 'POST' }), invalidatesTags: ['list'] }),
  }),
});

export const {
  useListTunesQuery,
  useReadTuneQuery,
  useCreateTuneMutation,
  useSaveTuneMutation,
  useDeleteTuneMutation,
  useRestoreTuneMutation,
  useSaveChainMutation,
  useSaveMarkMutation,
  useVoidReadingMutation,
  useVoidTraceMutation,
  useLoadDemoMutation,
} = yieldApi;
