import { configureStore } from '@reduxjs/toolkit';
import type { NewReading } from '@yield/contract';
import { describe, expect, it } from 'vitest';
import { connectionSeen } from '../api/connection.ts';
import { problemWords, NOT_REACHED } from '../api/problem.ts';
import { VERDICT, warningWords } from '../trace/verdictWords.ts';
import { benchSlice, benchToggled, knobTurned } from './benchSlice.ts';
import { draftDone, draftsSlice, draftTyped } from './drafts.ts';
import {
  entriesFound,
  entryAdded,
  entryDropped,
  entryRefused,
  entriesStored,
  outboxSelectors,
  outboxSlice,
  type OutboxEntry,
} from './outbox.ts';

const reading: NewReading = {
  stepId: 'gain:left',
  kind: 'gain-voltage',
  value: 20,
  resolution: 0.1,
  conditions: {
    at: 'load',
    toneHz: 1000,
    toneLevelDbfs: 0,
    sourceId: 'source',
    sourceName: 'Unit',
    sourceVolume: 30,
    load: 'off',
    loadOhm: 4,
    mode: 'stereo',
    amplifierId: 'amp',
    amplifierName: 'Amp',
  },
  takenAt: '2026-01-01T00:00:00.000Z',
};
const entry = (id: string): OutboxEntry => ({ kind: 'reading', id, tuneId: 'tune', reading });

describe('the outbox', () => {
  const newOutbox = () => {
    const store = configureStore({ reducer: { outbox: outboxSlice.reducer } });
    return { store, ids: () => outboxSelectors.selectAll(store.getState().outbox).map(({ id }) => id) };
  };

  it('holds what was entered until it is stored', () => {
    const { store, ids } = newOutbox();
    store.dispatch(entryAdded(entry('a')));
    store.dispatch(entryAdded(entry('b')));
    expect(ids()).toEqual(['a', 'b']);
    store.dispatch(entriesStored(['a']));
    expect(ids()).toEqual(['b']);
  });

  it('takes up what an earlier visit left, without doubling what is there', () => {
    const { store, ids } = newOutbox();
    store.dispatch(entryAdded(entry('a')));
    store.dispatch(entriesFound([entry('a'), entry('b')]));
    expect(ids()).toEqual(['a', 'b']);
  });

  it('keeps a refused entry with its reason until the tuner drops it', () => {
    const { store, ids } = newOutbox();
    store.dispatch(entryAdded(entry('a')));
    store.dispatch(entryRefused({ id: 'a', reason: 'the tune is gone' }));
    expect(outboxSelectors.selectById(store.getState().outbox, 'a')?.refused).toBe('the tune is gone');
    store.dispatch(entryRefused({ id: 'nobody', reason: 'x' }));
    store.dispatch(entryDropped('a'));
    expect(ids()).toEqual([]);
  });

  it('knows whether the server answers', () => {
    const { store } = newOutbox();
    expect(store.getState().outbox.connection).toBe('unknown');
    store.dispatch(connectionSeen('down'));
    expect(store.getState().outbox.connection).toBe('down');
  });
});

describe('drafts', () => {
  it('keep each field apart and forget what was entered', () => {
    let state = draftsSlice.reducer(undefined, draftTyped({ key: 'a', text: '15.' }));
    state = draftsSlice.reducer(state, draftTyped({ key: 'b', text: '2' }));
    state = draftsSlice.reducer(state, draftTyped({ key: 'a', text: '15.8' }));
    expect(state).toEqual({ a: '15.8', b: '2' });
    expect(draftsSlice.reducer(state, draftDone('a'))).toEqual({ b: '2' });
  });
});

describe('the bench', () => {
  it('keeps a knob for each channel of each tune', () => {
    let state = benchSlice.reducer(undefined, knobTurned({ key: 'tune/left', position: 0.3 }));
    state = benchSlice.reducer(state, knobTurned({ key: 'tune/right', position: 0.7 }));
    state = benchSlice.reducer(state, benchToggled());
    expect(state).toEqual({ open: true, knobs: { 'tune/left': 0.3, 'tune/right': 0.7 } });
  });
});

describe('an error of the server in words', () => {
  it('is its own detail, with its faults and what is stored now', () => {
    const data = {
      detail: 'load must be above 0 ohm',
      errors: [{ pointer: '/loadOhm', message: 'load must be above 0 ohm' }],
      current: { version: 3 },
    };
    expect(problemWords({ status: 422, data })).toEqual({ status: 422, text: data.detail, faults: data.errors, current: data.current });
    // A problem document comes as text where its content type is not plain JSON.
    expect(problemWords({ status: 'PARSING_ERROR', data: JSON.stringify(data) }).text).toBe(NOT_REACHED);
    expect(problemWords({ status: 422, data: JSON.stringify(data) }).text).toBe(data.detail);
  });
  it.each([undefined, { status: 'FETCH_ERROR' }, { status: 502, data: '<html>' }])('is the server’s absence for %j', (error) => {
    expect(problemWords(error).text).toBe(NOT_REACHED);
  });
});

describe('the words of a verdict', () => {
  it('are there for each, and only a clean one is good', () => {
    for (const [verdict, { word, grade }] of Object.entries(VERDICT)) {
      expect(word.length).toBeGreaterThan(3);
      expect(grade === 'good').toBe(['clean', 'sweep', 'pulse', 'curve'].includes(verdict));
    }
  });
  it('are sentences for every warning', () => {
    const words = warningWords({
      warnings: ['uncalibrated', 'other-tone', 'few-cycles', 'coarse-steps', 'noisy', 'over-range'],
    } as Parameters<typeof warningWords>[0]);
    for (const sentence of words) expect(sentence).toMatch(/^[A-Z].*\.$/);
  });
});
