// The queue of what was entered: its order, its lanes, and what becomes of an answer.
import { configureStore } from '@reduxjs/toolkit';
import type { NewReading, SavedMark, SaveMark, TuneDetail } from '@yield/contract';
import { DEFAULT_RULES } from '@yield/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { putChanges } from '../api/tuneParts.ts';
import { yieldApi } from '../api/yieldApi.ts';
import { entriesFound, entryAdded, entryDropped, nextPlace, outboxSelectors, outboxSlice, type OutboxEntry } from './outbox.ts';
import before from './fixtures/queueBefore.json' with { type: 'json' };
import { findEntries, keepEntry } from './entryStore.ts';
import { laneOf, outboxSender } from './outboxSender.ts';

const kept = vi.hoisted(() => ({ store: new Map<string, unknown>(), refuses: false, stalls: false }));
vi.mock('idb-keyval', () => ({
  set: (key: string, value: unknown) =>
    kept.stalls
      ? new Promise(() => undefined)
      : kept.refuses
        ? Promise.reject(new Error('no room'))
        : Promise.resolve(kept.store.set(key, value)),
  get: (key: string) => Promise.resolve(kept.store.get(key)),
  del: (key: string) => Promise.resolve(kept.store.delete(key)),
  entries: () => Promise.resolve([...kept.store]),
}));

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

type Answer = (
  url: string,
  body: unknown,
  method: string,
) => { status: number; body?: unknown } | Promise<{ status: number; body?: unknown }>;
const asked: { url: string; method: string; body: unknown }[] = [];
/** A server behind `fetch`: the sender's own calls by address, those of the API slice as requests. */
function serve(answer: Answer): void {
  vi.stubGlobal('fetch', async (input: string | Request, init: RequestInit = {}): Promise<Response> => {
    const json = (status: number, body: unknown): Response =>
      new Response(status === 204 ? null : JSON.stringify(body ?? {}), { status, headers: { 'content-type': 'application/json' } });
    if (typeof input !== 'string') return json(200, TUNE);
    const body = typeof init.body === 'string' ? (JSON.parse(init.body) as unknown) : init.body;
    asked.push({ url: input, method: init.method ?? 'GET', body });
    const given = await answer(input, body, init.method ?? 'GET');
    return json(given.status, given.body);
  });
}
const newStore = () =>
  configureStore({
    reducer: { [yieldApi.reducerPath]: yieldApi.reducer, outbox: outboxSlice.reducer },
    middleware: (defaults) => defaults({ serializableCheck: false }).concat(yieldApi.middleware).prepend(outboxSender().middleware),
  });
const left = (store: ReturnType<typeof newStore>): OutboxEntry[] => outboxSelectors.selectAll(store.getState().outbox);
const settled = (store: ReturnType<typeof newStore>, count = 0) =>
  vi.waitFor(() => expect(left(store)).toHaveLength(count), { timeout: 30_000 });

let number = 0;
const fresh = () => ({ id: `e${(number += 1)}`, tuneId: 't', queuedAt: nextPlace() });
const mark = (checks: string[], version = 0): OutboxEntry => ({ ...fresh(), kind: 'mark', stepId: 'hookup:a', body: { version, checks } });
const voiding = (targetId: string): OutboxEntry => ({ ...fresh(), kind: 'void', of: 'reading', targetId, reason: 'wrong' });
const capture = (): OutboxEntry => {
  const own = fresh();
  kept.store.set(`bytes:${own.id}`, new Uint8Array([1]));
  return { ...own, kind: 'trace', trace: { id: own.id, fileName: 'x.csv' }, upload: {}, contentType: 'text/csv' } as unknown as OutboxEntry;
};

beforeEach(() => {
  asked.length = 0;
  kept.store.clear();
  kept.refuses = false;
  vi.stubGlobal(
    'Request',
    class extends Request {
      constructor(input: RequestInfo | URL, init?: RequestInit) {
        super(typeof input === 'string' && input.startsWith('/') ? `http://yield.invalid${input}` : input, init);
      }
    },
  );
});
afterEach(() => vi.unstubAllGlobals());

describe('ticks', () => {
  it('made in one breath end as the last of them, each sent on the version before', async () => {
    let stored: SavedMark | undefined;
    serve((_url, body) => {
      const { version, checks } = body as SaveMark;
      if (version !== (stored?.version ?? 0)) return { status: 409, body: { detail: 'stale', current: stored } };
      stored = { stepId: 'hookup:a', checks, version: version + 1 };
      return { status: 200, body: stored };
    });
    const store = newStore();
    for (const checks of [['one'], ['one', 'two'], ['one', 'two', 'three']]) store.dispatch(entryAdded(mark(checks)));
    await settled(store);
    expect(stored!.checks).toEqual(['one', 'two', 'three']);
    expect([...kept.store.keys()].filter((key) => key.startsWith('outbox:'))).toEqual([]);
  });
  it('whose answer was lost are known again; those of another window are not written over', async () => {
    const theirs = { stepId: 'hookup:a', checks: ['one'], version: 5 };
    serve(() => ({ status: 409, body: { detail: 'changed elsewhere', current: theirs } }));
    const store = newStore();
    store.dispatch(entryAdded(mark(['one'])));
    await settled(store);
    store.dispatch(entryAdded(mark(['two'])));
    await vi.waitFor(() => expect(left(store)[0]?.refused).toBe('changed elsewhere'), { timeout: 30_000 });
  });
  it('come after one of their own whose answer was lost, though that one is no longer sent', async () => {
    // The page was closed before the first answer came: the server holds it, and both wait here.
    serve((_url, body) => {
      const { version, checks } = body as { version: number; checks: string[] };
      return version === 1
        ? { status: 200, body: { stepId: 'hookup:a', checks, version: 2 } }
        : { status: 409, body: { detail: 'changed elsewhere', current: { stepId: 'hookup:a', checks: ['one'], version: 1 } } };
    });
    const store = newStore();
    store.dispatch(entriesFound([mark(['one']), mark(['two'])]));
    await settled(store);
    expect(left(store)).toEqual([]);
    expect(asked.at(-1)).toMatchObject({ body: { checks: ['two'], version: 1 } });
  });
});

describe('edits', () => {
  const edit = (after: string): OutboxEntry => ({
    ...fresh(),
    kind: 'edit',
    of: 'chain',
    seen: 1,
    changes: [{ path: ['source', 'name'], before: 'x', after }],
  });
  it('stand in the tune with the answer, and are let go', async () => {
    serve((_url, body) => {
      const { changes } = body as { changes: { after: string }[] };
      return {
        status: 200,
        body: { version: 2, body: { ...TUNE.chain.body, source: { ...TUNE.chain.body.source, name: changes[0]!.after } } },
      };
    });
    const store = newStore();
    const entry = edit('y');
    store.dispatch(entryAdded(entry));
    await settled(store);
    expect(asked.at(-1)).toMatchObject({ method: 'PUT', url: `/api/v1/tunes/t/edits/${entry.id}`, body: { kind: 'chain', seen: 1 } });
    const { data } = yieldApi.endpoints.readTune.select('t')(store.getState());
    expect(data!.chain).toMatchObject({ version: 2, body: { source: { name: 'y' } } });
  });
  it('that met another one wait for the tuner, beside what is stored; what is not valid says where', async () => {
    const theirs = { version: 3, body: { ...TUNE.chain.body, source: { ...TUNE.chain.body.source, name: 'theirs' } } };
    serve(() => ({ status: 409, body: { detail: 'changed elsewhere', current: theirs } }));
    const store = newStore();
    store.dispatch(entryAdded(edit('mine')));
    await vi.waitFor(() => expect(left(store)[0]).toMatchObject({ hasMet: true, refused: 'changed elsewhere' }), { timeout: 30_000 });
    await vi.waitFor(() => {
      expect(yieldApi.endpoints.readTune.select('t')(store.getState()).data!.chain.body.source.name).toBe('theirs');
    });
    const faults = [{ pointer: '/chain/source/name', message: 'name: too short' }];
    serve(() => ({ status: 422, body: { detail: 'not valid', errors: faults } }));
    const other = newStore();
    other.dispatch(entryAdded(edit('')));
    await vi.waitFor(() => expect(left(other)[0]).toMatchObject({ refused: 'not valid', faults }), { timeout: 30_000 });
  });
});

describe('parts of a tune that are told', () => {
  it('are put in by id and time, and never an older one over a newer one', () => {
    const reading = (id: string, takenAt: string) =>
      ({ id, takenAt, stepId: 's:a', kind: 'k', value: 1, resolution: 1, conditions: {} }) as never;
    const tune = structuredClone(TUNE);
    putChanges(tune, {
      changes: 4,
      readings: [reading('b', '2026-01-02T00:00:00.000Z')],
      marks: [{ stepId: 's', checks: ['new'], version: 2 }],
    });
    putChanges(tune, {
      changes: 3,
      readings: [reading('a', '2026-01-01T00:00:00.000Z')],
      marks: [{ stepId: 's', checks: [], version: 1 }],
    });
    putChanges(tune, { changes: 5, readings: [{ ...(reading('b', '2026-01-02T00:00:00.000Z') as object), voidedReason: 'x' } as never] });
    expect(tune.changes).toBe(5);
    expect(tune.readings.map(({ id, voidedReason }) => [id, voidedReason])).toEqual([
      ['a', undefined],
      ['b', 'x'],
    ]);
    expect(tune.marks).toEqual([{ stepId: 's', checks: ['new'], version: 2 }]);
  });
});

describe('the queue', () => {
  it('keeps the order of a tune, and what failed at its head', async () => {
    let isDown = true;
    serve(() => ({ status: isDown ? 503 : 204 }));
    const store = newStore();
    const [a, b] = [voiding('a'), voiding('b')];
    store.dispatch(entryAdded(a));
    store.dispatch(entryAdded(b));
    await vi.waitFor(() => expect(store.getState().outbox.connection).toBe('down'), { timeout: 30_000 });
    isDown = false;
    await settled(store);
    const targets = asked.map(({ url }) => url.split('/').at(-2));
    expect(targets.at(-2)).toBe('a');
    expect(targets.at(-1)).toBe('b');
    expect(targets.filter((target) => target === 'b')).toHaveLength(1);
  });
  it.each([500, 401, 408, 429])('lets no capture that gets %d hold up a reading', async (status) => {
    serve((url) => ({ status: url.includes('/traces/') ? status : 204 }));
    const store = newStore();
    store.dispatch(entryAdded(capture()));
    store.dispatch(entryAdded(voiding('a')));
    await settled(store, 1);
    expect(left(store)[0]).toMatchObject({ kind: 'trace' });
    expect(left(store)[0]!.refused).toBeUndefined();
  });
  it('sends nothing twice at once', async () => {
    serve(async () => {
      await new Promise((resolve) => setTimeout(resolve, 30));
      return { status: 204 };
    });
    const store = newStore();
    const entries = [capture(), voiding('a'), voiding('b')];
    for (const entry of entries) store.dispatch(entryAdded(entry));
    await settled(store);
    expect(asked).toHaveLength(3);
  });
  it('stands a refusal beside its entry, and goes on', async () => {
    serve((url) => (url.includes('/bad/') ? { status: 422, body: { detail: 'not so' } } : { status: 204 }));
    const store = newStore();
    store.dispatch(entryAdded(voiding('bad')));
    store.dispatch(entryAdded(voiding('good')));
    await settled(store, 1);
    expect(left(store)[0]).toMatchObject({ targetId: 'bad', refused: 'not so' });
  });
  it('says so where the browser keeps nothing, and sends all the same', async () => {
    kept.refuses = true;
    serve(() => ({ status: 204 }));
    const store = newStore();
    store.dispatch(entryAdded(voiding('a')));
    await settled(store);
    expect(store.getState().outbox.isVolatile).toBe(true);
  });
  it('has a lane for each capture, and one for the rest of a tune', () => {
    const own = capture();
    expect(laneOf(own)).toBe(`capture/${own.id}`);
    expect(laneOf(mark([]))).toBe('tune/t');
    expect(laneOf({ ...fresh(), kind: 'void', of: 'trace', targetId: own.id, reason: null })).toBe(laneOf(own));
  });
});

describe('what an older version left in the browser', () => {
  it('is found, and sent whole in its order: readings without a place first', async () => {
    // As the versions of 23 to 25 November 2026 wrote it: readings had no place in the queue, ticks no `earlier`.
    for (const entry of before) kept.store.set(`outbox:${entry.id}`, entry);
    kept.store.set(`bytes:${before.at(-1)!.id}`, new Uint8Array([1, 2, 3]));
    serve((url) => {
      if (url.includes('/marks/')) return { status: 200, body: { stepId: 'hookup:left', checks: ['one'], version: 1 } };
      if (url.includes('/edits/')) return { status: 200, body: { version: 2, body: TUNE.chain.body } };
      return { status: url.endsWith('/void') ? 204 : 201, body: {} };
    });
    const store = newStore();
    store.dispatch(entriesFound(await findEntries()));
    await settled(store);
    const own = asked.filter(({ url }) => !url.includes('/traces/'));
    expect(own.map(({ url }) => url.replace(/^.*\/tunes\/t\//, '').split('/')[0])).toEqual(['readings', 'marks', 'readings', 'edits']);
    expect(own[0]!.body).toMatchObject({ value: 17.3, kind: 'gain-voltage' });
    expect(asked.some(({ url }) => url.includes('/traces/0b0d8a3e-1111-4000-8000-000000000005'))).toBe(true);
    expect([...kept.store.keys()].filter((key) => /^(outbox|bytes):/.test(key))).toEqual([]);
  });
});

describe('what was entered a moment before the page went', () => {
  const noted = new Map<string, string>();
  /** The count of places stands beside them. */
  const notes = (): number => [...noted.keys()].filter((key) => key.startsWith('yield.entered:')).length;
  beforeEach(() => {
    noted.clear();
    // Keys are the object's own, as the browser has them.
    const storage = {
      setItem: (key: string, value: string) => {
        noted.set(key, value);
        Object.defineProperty(storage, key, { value, enumerable: true, configurable: true });
      },
      getItem: (key: string) => noted.get(key) ?? null,
      removeItem: (key: string) => {
        noted.delete(key);
        Reflect.deleteProperty(storage, key);
      },
    };
    for (const key of ['setItem', 'getItem', 'removeItem']) Object.defineProperty(storage, key, { enumerable: false });
    vi.stubGlobal('localStorage', storage);
  });

  it('is there at the next visit, though the database never answered', async () => {
    kept.stalls = true;
    serve(() => new Promise(() => undefined));
    const entered = mark(['a']);
    newStore().dispatch(entryAdded(entered));
    kept.stalls = false;
    expect(await findEntries()).toEqual([entered]);
    // From now on the database has it, and nothing stands beside it.
    expect(kept.store.get(`outbox:${entered.id}`)).toEqual(entered);
    expect(notes()).toBe(0);
  });

  it('is what was noted last, where the database has an older state of it', async () => {
    const entered = mark(['a']);
    const rebased = { ...entered, body: { checks: ['a'], version: 2 } };
    kept.store.set(`outbox:${entered.id}`, entered);
    localStorage.setItem(`yield.entered:${entered.id}`, JSON.stringify(rebased));
    expect(await findEntries()).toEqual([rebased]);
    expect(kept.store.get(`outbox:${entered.id}`)).toEqual(rebased);
  });

  it('is not struck by what the database took before it', async () => {
    const entered = mark(['a']);
    const first = keepEntry(entered);
    kept.stalls = true;
    void keepEntry({ ...entered, queuedAt: 7 });
    await first;
    kept.stalls = false;
    expect((await findEntries())[0]?.queuedAt).toBe(7);
  });

  it('is gone once the server has it', async () => {
    serve(() => ({ status: 200, body: { stepId: 'hookup:a', checks: ['a'], version: 1 } }));
    const store = newStore();
    store.dispatch(entryAdded(mark(['a'])));
    expect(notes()).toBe(1);
    await settled(store);
    await vi.waitFor(() => expect(notes()).toBe(0));
    expect(await findEntries()).toEqual([]);
  });
});

describe('a long queue of readings', () => {
  const readings = (count: number): OutboxEntry[] =>
    Array.from({ length: count }, () => ({ ...fresh(), kind: 'reading', reading: { stepId: 'gain:a', value: 1 } as NewReading }));
  const inTune = (store: ReturnType<typeof newStore>): string[] => {
    const { data } = yieldApi.endpoints.readTune.select('t')(store.getState());
    return (data?.readings ?? []).map(({ id }) => id);
  };
  const ids = (entries: readonly OutboxEntry[]): string[] => entries.map(({ id }) => id);

  it('enters its tune by and by, whole and in its order, and is judged anew a few times only', async () => {
    serve(() => ({ status: 201, body: {} }));
    const store = newStore();
    await store.dispatch(yieldApi.endpoints.readTune.initiate('t'));
    const all = readings(60);
    let changes = 0;
    let seen = inTune(store);
    store.subscribe(() => {
      const now = inTune(store);
      if (now.length !== seen.length) changes += 1;
      seen = now;
    });
    store.dispatch(entriesFound(all));
    await settled(store);
    expect(inTune(store)).toEqual(ids(all));
    expect(changes).toBeLessThan(20);
    await vi.waitFor(() => expect([...kept.store.keys()].filter((key) => key.startsWith('outbox:'))).toEqual([]));
  });

  it('is in the tune before a void of one of its readings is', async () => {
    serve(() => ({ status: 201, body: {} }));
    const store = newStore();
    await store.dispatch(yieldApi.endpoints.readTune.initiate('t'));
    const all = readings(3);
    store.dispatch(entriesFound([...all, voiding(all[1]!.id)]));
    await settled(store);
    const { data } = yieldApi.endpoints.readTune.select('t')(store.getState());
    expect(data?.readings.map(({ voidedReason }) => voidedReason)).toEqual([undefined, 'wrong', undefined]);
  });

  it('shows what was stored though the rest of it is dropped, or the server goes', async () => {
    const store = newStore();
    await store.dispatch(yieldApi.endpoints.readTune.initiate('t'));
    const [first, second, third, ...rest] = readings(5);
    let isUp = true;
    serve(() => {
      if (asked.length === 2) store.dispatch(entryDropped(third!.id));
      if (asked.length > 2) isUp = false;
      return isUp ? { status: 201, body: {} } : { status: 503, body: {} };
    });
    store.dispatch(entriesFound([first!, second!, third!, ...rest]));
    await vi.waitFor(() => expect(inTune(store)).toEqual(ids([first!, second!])));
    expect(ids(left(store))).toEqual(ids(rest));
  });
});
