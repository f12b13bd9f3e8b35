// A subwoofer and its doors at the listener's head: read as the step asks, moved as it says, until they add.
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../../../job/chain.ts';
import { alignedChain } from '../../../job/alignedChain.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import type { Reading, TuneSettings } from '../../../job/records.ts';
import { neighbourPhaseDeg, togetherDb } from '../../../phase/alignNeighbours.ts';
import { codesOf, runStepIn, allTicked, situation } from '../../testKit.fixture.ts';
import { meetingSetting, type MeetingStep } from './subject.ts';

const SETTINGS: TuneSettings = { rules: { ...DEFAULT_RULES }, meter: { percent: 0.5, digits: 1, highestHz: 20_000, trueRms: true } };
const channel = (id: string, name: string, kind: 'lowpass' | 'highpass', band: Channel['band']): Channel => ({
  id,
  name,
  amplifierId: 'amp',
  mode: 'mono',
  terminals: id,
  band,
  loadOhm: 4,
  drivers: [{ id: `d-${id}`, name, coils: 1, coilOhm: 4, ratedPowerWatt: 300, role: band === 'bass' ? 'subwoofer' : 'woofer' }],
  wiring: { network: 'A1' },
  filters: [{ id: `f-${id}`, place: 'processor', kind, family: 'linkwitz-riley', order: 4, cornerHz: 80 }],
});
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }] }],
  channels: [
    channel('sub', 'Bass', 'lowpass', 'bass'),
    channel('dl', 'Door left', 'highpass', 'full-range'),
    channel('dr', 'Door right', 'highpass', 'full-range'),
  ],
};
const STEP_ID = 'meeting:sub-dl';

/** A vehicle whose doors arrive 2.6 ms before its subwoofer, which is wired the wrong way round. */
const LATER_SECOND = -0.0026;

let clock = 0;
const read = (kind: string, value: number, conditions: AirConditions): Reading => ({
  id: `r${clock}`,
  stepId: STEP_ID,
  kind,
  value: Math.round(value * 10) / 10,
  resolution: 0.1,
  conditions,
  takenAt: new Date((clock += 1) * 60_000).toISOString(),
});

/** What a sound meter shows of what the step asks for. */
function shown(chain: Chain, readings: Reading[]): Reading {
  const now = situation(chain, SETTINGS, { readings, marks: allTicked(chain, SETTINGS) });
  const { kind, step, state } = runStepIn(STEP_ID, now);
  const conditions = kind.conditions!(step, now) as AirConditions;
  const { action } = state;
  if (action?.kind !== 'read') throw new Error(`asks for ${JSON.stringify(action)}`);
  const { filterPhaseDeg } = (step as unknown as MeetingStep).tones.find(({ hertz }) => hertz === conditions.toneHz)!;
  const [lower, upper] = [86, 84];
  const phase = neighbourPhaseDeg({ hertz: conditions.toneHz, filterPhaseDeg }, LATER_SECOND, true, conditions.meeting!);
  const value = { 'level-lower': lower, 'level-upper': upper, 'level-both': togetherDb(lower, upper, phase) }[action.reading]!;
  return read(action.reading, value, conditions);
}

const stateOf = (chain: Chain, readings: Reading[]) =>
  runStepIn(STEP_ID, situation(chain, SETTINGS, { readings, marks: allTicked(chain, SETTINGS) })).state;

describe('a subwoofer that is late and reversed', () => {
  let chain = CHAIN;
  const readings: Reading[] = [];
  const words: string[] = [];
  for (let move = 0; move < 60; move += 1) {
    const { action, status } = stateOf(chain, readings);
    if (status === 'done') break;
    if (action?.kind === 'align') {
      chain = alignedChain(chain, action);
      words.push('align');
    } else if (action?.kind === 'tick') throw new Error('ticks are all there');
    else readings.push(shown(chain, readings));
  }
  it('ends together by what the step says alone', () => {
    const state = stateOf(chain, readings);
    expect(state.status).toBe('done');
    expect(codesOf(state)).toEqual(['together']);
    expect(words.length).toBeLessThan(6);
  });
  it('reads each alone once, and both anew after every change', () => {
    const count = (kind: string) => readings.filter((reading) => reading.kind === kind).length;
    expect([count('level-lower'), count('level-upper')]).toEqual([3, 3]);
    // Back at a setting that was measured nothing is read again.
    expect(count('level-both')).toBeLessThanOrEqual(3 * (words.length + 1));
  });
  it('is open, and never stale, while its first levels are read', () => {
    for (let count = 1; count < 9; count += 1) expect(stateOf(CHAIN, readings.slice(0, count)).status).toBe('open');
  });
  it('goes back to an earlier setting that was better', () => {
    const worse = alignedChain(chain, { addSecond: { sub: 0.004 }, reverse: [] });
    const more = [...readings];
    for (let k = 0; k < 3; k += 1) more.push(shown(worse, more));
    const state = stateOf(worse, more);
    expect(codesOf(state)).toEqual(['earlier-was-better']);
    expect(state.action?.kind).toBe('align');
    expect(stateOf(alignedChain(worse, state.action as never), more).status).toBe('done');
  });
  it('is moved by what was found at the crossover where only some distances are known', () => {
    const partly: Chain = {
      ...CHAIN,
      processor: { name: 'Processor', inputs: [], outputs: [], outputVolt: 2, hasClipLight: false },
      listening: { distancesMetre: { dl: 1 }, trimSecond: { sub: 0.002 } },
    };
    const { step } = runStepIn(STEP_ID, situation(partly, SETTINGS));
    expect(meetingSetting(step as unknown as MeetingStep, situation(partly, SETTINGS))).toEqual({ delaySecond: 0.002, isReversed: false });
  });
  it('starts anew when a filter changes', () => {
    const [sub, ...doors] = chain.channels;
    const other = { ...chain, channels: [{ ...sub!, filters: [{ ...sub!.filters![0]!, order: 2 }] }, ...doors] };
    expect(stateOf(other, readings).status).toBe('stale');
  });
});

describe('a slipped digit', () => {
  it('does not make two ways add: 48 dB for 84 says nothing of the phase', () => {
    const readings: Reading[] = [];
    for (let k = 0; k < 6; k += 1) {
      const next = shown(CHAIN, readings);
      readings.push(next.kind === 'level-upper' ? { ...next, value: 48 } : next);
    }
    expect(stateOf(CHAIN, readings).status).toBe('out-of-tolerance');
    expect(codesOf(stateOf(CHAIN, readings))).toEqual(['levels-apart']);
  });
});

describe('levels that cannot be', () => {
  it.each([
    ['louder together than they can be', 95],
    ['quieter together than they can be', 60],
  ])('%s', (_, both) => {
    const readings: Reading[] = [];
    for (let k = 0; k < 9; k += 1) {
      const next = shown(CHAIN, readings);
      const value = { 'level-lower': 86, 'level-upper': 80, 'level-both': both }[next.kind]!;
      readings.push({ ...next, value });
    }
    expect(codesOf(stateOf(CHAIN, readings))).toEqual(['levels-contradict']);
  });
});
