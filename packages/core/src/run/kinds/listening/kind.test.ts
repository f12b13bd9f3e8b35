import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../../../job/chain.ts';
import { changedByEar, heardSetting, PASSAGES } from '../../../job/heard.ts';
import type { HeardEntry } from '../../../job/heardEntry.ts';
import type { LoadReading, TuneSettings } from '../../../job/records.ts';
import { codesOf, loadConditionsIn, runStepIn, allTicked, situation } from '../../testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }] }],
  channels: [{ id: 'sub', name: 'Bass', amplifierId: 'amp', mode: 'mono', terminals: 'out', band: 'bass', loadOhm: 4, drivers: [] }],
};
let line = 0;
const entry = (chain: Chain, passage: string, outcome: HeardEntry['outcome'], words?: string): HeardEntry => ({
  id: `line-${(line += 1)}`,
  at: '2026-11-26T10:00:00.000Z',
  passage,
  outcome,
  setting: heardSetting(chain),
  ...(words === undefined ? {} : { words }),
});
const heardAll = (chain: Chain): Chain => ({ ...chain, heard: PASSAGES.map((id) => entry(chain, id, 'fine')) });
const stateOf = (chain: Chain) => runStepIn('listening:all', situation(chain, SETTINGS, { marks: allTicked(chain, SETTINGS) })).state;

describe('listening', () => {
  it('is open until every passage was heard', () => {
    expect(stateOf(CHAIN).status).toBe('open');
    const { heard = [] } = heardAll(CHAIN);
    expect(stateOf({ ...CHAIN, heard: heard.slice(1) }).status).toBe('open');
    expect(codesOf(stateOf(heardAll(CHAIN)))).toEqual(['heard-fine']);
  });

  it('what was not right stays so until the same passage is heard again', () => {
    const all = heardAll(CHAIN);
    const wrong = { ...all, heard: [...all.heard!, entry(all, 'voice', 'wrong', 'to the left')] };
    expect(stateOf(wrong)).toMatchObject({ status: 'out-of-tolerance', findings: [{ code: 'heard-wrong', grade: 'attention' }] });
    expect(stateOf({ ...wrong, heard: [...wrong.heard, entry(wrong, 'hiss', 'fine')] }).status).toBe('out-of-tolerance');
    expect(stateOf({ ...wrong, heard: [...wrong.heard, entry(wrong, 'voice', 'fine')] }).status).toBe('done');
  });

  it('a change after it makes everything that was heard a thing of before', () => {
    const made = changedByEar(
      heardAll(CHAIN),
      { kind: 'level', channelId: 'sub', byDb: -2 },
      { id: 'x', at: '2026-11-26T11:00:00.000Z', passage: 'bass-notes' },
    );
    if ('fault' in made) throw new Error(made.fault);
    expect(stateOf(made.chain).status).toBe('stale');
    expect(codesOf(stateOf(made.chain))).toEqual(PASSAGES.map(() => 'heard-before'));
  });

  it('a gain that is read again afterwards makes what was heard a thing of before, and a handover too', () => {
    const all = heardAll(CHAIN);
    const marks = allTicked(all, SETTINGS);
    const read: LoadReading = {
      id: 'r',
      stepId: 'gain:sub',
      kind: 'gain-voltage',
      value: 17.3,
      resolution: 0.1,
      conditions: loadConditionsIn({ id: 'gain:sub' }, all, SETTINGS),
      takenAt: '2026-11-26T11:00:00.000Z',
    };
    const at = (id: string, readings: LoadReading[]) => runStepIn(id, situation(all, SETTINGS, { marks, readings })).state.status;
    expect([at('listening:all', []), at('handover:all', [])]).toEqual(['done', 'done']);
    expect([at('listening:all', [read]), at('handover:all', [read])]).toEqual(['stale', 'stale']);
  });

  it('counts for the tune once anything was heard', () => {
    const run = (chain: Chain) => runStepIn('listening:all', situation(chain, SETTINGS, { marks: allTicked(chain, SETTINGS) }));
    expect(run(CHAIN)).toMatchObject({ isCounted: false, isSettled: true });
    expect(run({ ...CHAIN, heard: [entry(CHAIN, 'voice', 'wrong')] })).toMatchObject({ isCounted: true, isSettled: false });
  });

  it('a passage of the tuner’s own counts once it was judged, a blind comparison never', () => {
    const all = heardAll(CHAIN);
    const compared = { ...entry(all, 'Two presets', 'blind'), blind: { first: 'a', second: 'b', right: 5, trials: 10 } };
    expect(stateOf({ ...all, heard: [...all.heard!, compared] }).status).toBe('done');
    expect(stateOf({ ...all, heard: [...all.heard!, entry(all, 'Cymbals', 'wrong')] }).status).toBe('out-of-tolerance');
  });
});
