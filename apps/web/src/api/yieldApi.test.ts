import { configureStore } from '@reduxjs/toolkit';
import type { SavedMark, SaveMark, TuneDetail } from '@yield/contract';
import { DEFAULT_RULES } from '@yield/core';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { yieldApi } from './yieldApi.ts';

const TUNE: TuneDetail = {
  id: 't',
  name: 'Tune',
  vehicle: '',
  changes: 1,
  version: 1,
  updatedAt: '2026-01-01T00:00:00.000Z',
  settings: { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 400, trueRms: true } },
  chain: {
    version: 1,
    body: { source: { name: 'x', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' }, amplifiers: [], channels: [] },
  },
  readings: [],
  traces: [],
  marks: [],
};

/** A server that keeps one mark by its version, and takes its time. */
function slowServer(delayMs: number) {
  const seen: { version: number; checks: string[] }[] = [];
  let kept: SavedMark | undefined;
  const answer = (status: number, body: unknown): Response =>
    new Response(JSON.stringify(body), { status, headers: { 'content-type': 'application/json' } });
  vi.stubGlobal('fetch', async (request: Request): Promise<Response> => {
    if (request.method === 'GET') return answer(200, { ...TUNE, marks: kept === undefined ? [] : [kept] });
    const body = (await request.json()) as SaveMark;
    seen.push({ version: body.version, checks: body.checks });
    await new Promise((resolve) => setTimeout(resolve, delayMs));
    if (body.version !== (kept?.version ?? 0)) return answer(409, { detail: 'stale', current: kept });
    kept = { stepId: 'hookup:a', checks: body.checks, version: body.version + 1 };
    return answer(200, kept);
  });
  return { seen, kept: () => kept };
}

// A page's addresses are relative; outside of one they want a place to be relative to.
const newStore = () => {
  vi.stubGlobal(
    'Request',
    class extends Request {
      constructor(input: RequestInfo | URL, init?: RequestInit) {
        super(typeof input === 'string' && input.startsWith('/') ? `http://yield.invalid${input}` : input, init);
      }
    },
  );
  return configureStore({
    reducer: { [yieldApi.reducerPath]: yieldApi.reducer },
    middleware: (defaults) => defaults().concat(yieldApi.middleware),
  });
};

afterEach(() => vi.unstubAllGlobals());

describe('ticks of a step', () => {
  it('made in one breath are all kept, each built on the one before', async () => {
    const server = slowServer(20);
    const store = newStore();
    await store.dispatch(yieldApi.endpoints.readTune.initiate('t'));
    const tick = (checks: string[]) =>
      store.dispatch(yieldApi.endpoints.saveMark.initiate({ id: 't', stepId: 'hookup:a', body: { version: 0, checks } }));
    const shown = (): string[] | undefined => yieldApi.endpoints.readTune.select('t')(store.getState()).data?.marks[0]?.checks;

    const all = [tick(['one']), tick(['one', 'two']), tick(['one', 'two', 'three'])];
    expect(shown()).toEqual(['one', 'two', 'three']);
    await all[0];
    // The first answer must not take the later ticks off the screen.
    expect(shown()).toEqual(['one', 'two', 'three']);
    const results = await Promise.all(all);
    expect(results.map(({ error }) => error)).toEqual([undefined, undefined, undefined]);
    expect(server.seen.map(({ version }) => version)).toEqual([0, 1, 2]);
    expect(server.kept()!.checks).toEqual(['one', 'two', 'three']);
    expect(yieldApi.endpoints.readTune.select('t')(store.getState()).data!.marks[0]).toEqual(server.kept());
  });

  it('refused by the server fall back to what is stored', async () => {
    slowServer(1);
    const store = newStore();
    await store.dispatch(yieldApi.endpoints.readTune.initiate('t'));
    const { error } = await store.dispatch(
      yieldApi.endpoints.saveMark.initiate({ id: 't', stepId: 'hookup:b', body: { version: 7, checks: ['one'] } }),
    );
    expect(error).toMatchObject({ status: 409 });
    expect(yieldApi.endpoints.readTune.select('t')(store.getState()).data!.marks).toEqual([]);
  });
});
