import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../job/chain.ts';
import { HOUSE_QUESTIONS } from '@yield/words';
import type { LoadReading, TuneSettings } from '../job/records.ts';
import { runOf } from './run.ts';
import { rulesImpact } from './rulesImpact.ts';
import { loadConditionsIn, allTicked, situation } from './testKit.fixture.ts';
import { tuneFindings } from './tuneFindings.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const door = (side: string): Chain['channels'][0] => ({
  id: side,
  name: `Door ${side}`,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: side,
  band: 'full-range',
  loadOhm: 4,
  drivers: [{ id: `w-${side}`, name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 75, role: 'woofer' }],
});
const DOORS: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Four-channel', minimumStereoOhm: 2, ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }] }],
  channels: [door('left'), door('right')],
};
const gain = (side: string, value: number): LoadReading => ({
  id: side,
  stepId: `gain:${side}`,
  kind: 'gain-voltage',
  value,
  resolution: 0.01,
  conditions: loadConditionsIn({ id: `gain:${side}` }, DOORS, SETTINGS),
  takenAt: '2026-01-01T10:00:00Z',
});
const now = (left: number, right: number) =>
  situation(DOORS, SETTINGS, { readings: [gain('left', left), gain('right', right)], marks: allTicked(DOORS, SETTINGS) });

describe('the questions of the house', () => {
  const all = HOUSE_QUESTIONS.flatMap(({ questions }) => questions);
  it('ask for every rule once, each with its answers, their price and a source', () => {
    const keys = all.map(({ key }) => key);
    expect(new Set(keys).size).toBe(keys.length);
    for (const key of Object.keys(DEFAULT_RULES)) expect(keys).toContain(key);
    for (const { answers, source } of all) {
      expect(answers.length).toBeGreaterThanOrEqual(2);
      expect(source).toMatch(/\.$/);
      answers.forEach(({ words, cost }) => expect([words, cost].every((text) => text !== '')).toBe(true));
    }
  });
  it('name as usual what holds where nothing is said, and offer it', () => {
    for (const { key, usual, answers } of all) {
      expect(DEFAULT_RULES[key] ?? usual).toBe(usual);
      expect(answers.map(({ value }) => value)).toContain(usual);
    }
  });
});

describe('another answer', () => {
  it('tells whose figures would change, and what would no longer be done', () => {
    const run = now(17.32, 17.32);
    const impact = rulesImpact(run, runOf(run), { ...DEFAULT_RULES, headroomDb: 3 });
    expect(impact.targets).toContainEqual({ title: 'Gain', count: 2 });
    expect(impact.undone.map(({ id }) => id)).toEqual(['gain:left', 'gain:right']);
  });
  it('tells what it would settle, and where it changes nothing', () => {
    // 17.32 V are wanted; 16.9 V are 0.2 dB less than a fifth of a decibel allows.
    const run = now(16.8, 16.8);
    const wide = rulesImpact(run, runOf(run), { ...DEFAULT_RULES, toleranceDb: 1 });
    expect(wide.settled.map(({ id }) => id)).toEqual(['gain:left', 'gain:right']);
    const same = rulesImpact(run, runOf(run), { ...DEFAULT_RULES, cornerTolerancePercent: 20 });
    expect(same).toEqual({ targets: [], undone: [], settled: [] });
  });
});

describe('the findings of a tune', () => {
  it('stand worst first, the same words once with all of their steps', () => {
    const low = { ...DOORS, channels: DOORS.channels.map((channel) => ({ ...channel, loadOhm: 1 })) };
    const found = tuneFindings(runOf(situation(low, SETTINGS, { readings: [gain('left', 30), gain('right', 17.32)] })));
    const grades = found.map(({ finding }) => finding.grade);
    expect(grades[0]).toBe('stop');
    expect([...grades].sort((a, b) => ['stop', 'attention', 'stale'].indexOf(a) - ['stop', 'attention', 'stale'].indexOf(b))).toEqual(
      grades,
    );
    expect(found.some(({ steps }) => steps.length > 1)).toBe(true);
    expect(new Set(found.map(({ finding }) => say(finding).text)).size).toBe(found.length);
  });
  it('are none where all is well, and leave out what was skipped', () => {
    const run = runOf(now(17.32, 17.32)).filter(({ kind }) => kind.kind === 'gain');
    expect(tuneFindings(run)).toEqual([]);
    const marks = [{ stepId: 'gain:left', checks: [], skippedReason: 'no time' }];
    const off = runOf(situation(DOORS, SETTINGS, { readings: [gain('left', 30)], marks }));
    expect(tuneFindings(off).flatMap(({ steps }) => steps.map(({ id }) => id))).not.toContain('gain:left');
  });
});
