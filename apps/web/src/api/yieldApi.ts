import { createApi, fetchBaseQuery } from '@reduxjs/toolkit/query/react';
import type {
  ArchivedTune,
  NewTune,
  SaveChain,
  SavedMark,
  SaveMark,
  SaveShop,
  SaveTune,
  ShopSettings,
  TuneDetail,
  TuneHead,
  TuneListRow,
} from '@yield/contract';
import type { Chain } from '@yield/core';

/** The last save of each step's mark. */
const markSaves = new Map<string, { answer: Promise<SavedMark | undefined>; body: SaveMark }>();

/** Reads and edits that want an answer at once. Readings and captures go through the outbox instead, so that none is lost. */
export const yieldApi = createApi({
  reducerPath: 'api',
  baseQuery: fetchBaseQuery({ baseUrl: '/api/v1' }),
  tagTypes: ['list', 'tune', 'shop'],
  // A tune may have been changed in another window.
  refetchOnFocus: true,
  refetchOnReconnect: true,
  endpoints: (build) => ({
    listTunes: build.query<TuneListRow[], void>({ query: () => '/tunes', providesTags: ['list'], keepUnusedDataFor: 0 }),
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
    saveMark: build.mutation<SavedMark, { id: string; stepId: string; body: SaveMark }>({
      queryFn: async ({ id, stepId, body }, _api, _options, send) => {
        const step = `${id}/${stepId}`;
        const before = markSaves.get(step);
        const save = (async () => {
          const earlier = await before?.answer;
          // Two ticks in one breath: the second one builds on the version that the first one got.
          const version = Math.max(body.version, earlier?.version ?? 0);
          return send({ url: `/tunes/${id}/marks/${stepId}`, method: 'PUT', body: { ...body, version } });
        })();
        const answer = save.then(({ data }) => data as SavedMark | undefined);
        markSaves.set(step, { answer, body });
        const { data, error } = await save;
        return error === undefined ? { data: data as SavedMark } : { error };
      },
      // Shown at once; a refused save brings the stored state back.
      onQueryStarted: async ({ id, stepId, body }, { dispatch, queryFulfilled }) => {
        const patch = dispatch(
          yieldApi.util.updateQueryData('readTune', id, (tune) => {
            tune.marks = [...tune.marks.filter((m) => m.stepId !== stepId), { stepId, ...body }];
          }),
        );
        try {
          const { data } = await queryFulfilled;
          const isNewest = markSaves.get(`${id}/${stepId}`)?.body === body;
          dispatch(
            yieldApi.util.updateQueryData('readTune', id, (tune) => {
              // A later tick is on its way: it stays on the screen, and only the version moves on.
              const kept = tune.marks.find((m) => m.stepId === stepId);
              const mark = isNewest || kept === undefined ? data : { ...kept, version: data.version };
              tune.marks = [...tune.marks.filter((m) => m.stepId !== stepId), mark];
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
    restoreReading: build.mutation<void, { id: string; readingId: string }>({
      query: ({ id, readingId }) => ({ url: `/tunes/${id}/readings/${readingId}/restore`, method: 'POST' }),
      invalidatesTags: (_result, _error, { id }) => ['list', { type: 'tune', id }],
    }),
    restoreTrace: build.mutation<void, { id: string; traceId: string }>({
      query: ({ id, traceId }) => ({ url: `/tunes/${id}/traces/${traceId}/restore`, method: 'POST' }),
      invalidatesTags: (_result, _error, { id }) => ['list', { type: 'tune', id }],
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
  useSaveMarkMutation,
  useVoidReadingMutation,
  useVoidTraceMutation,
  useRestoreReadingMutation,
  useRestoreTraceMutation,
  useLoadDemoMutation,
} = yieldApi;
