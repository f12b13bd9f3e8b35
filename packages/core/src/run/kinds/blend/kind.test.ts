import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../../../job/chain.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import type { Reading, TuneSettings } from '../../../job/records.ts';
import { codesOf, runStepIn, allTicked, situation } from '../../testKit.fixture.ts';
import { blendConditions, type BlendFigures, type BlendSubject } from './kind.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const channel = (id: string, name: string, changes: Partial<Channel> = {}): Channel => ({
  id,
  name,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: id,
  band: 'full-range',
  loadOhm: 4,
  drivers: [],
  responseTarget: { fromHz: 100, toHz: 6400 },
  ...changes,
});
const SUB = { band: 'bass', responseTarget: { fromHz: 25, toHz: 100 } } as const;
const chainOf = (...channels: Channel[]): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 50 }] }],
  channels,
});
const CHAIN = chainOf(channel('l', 'Front left'), channel('r', 'Front right'), channel('s', 'Bass', SUB));

let clock = 0;
function readingsOf(chain: Chain, levels: Record<string, number>, settings = SETTINGS): Reading<AirConditions>[] {
  const now = situation(chain, settings);
  const { channels } = runStepIn('blend:all', now).step as unknown as BlendSubject;
  return channels.flatMap((each) =>
    levels[each.channel.id] === undefined
      ? []
      : [
          {
            id: `r${(clock += 1)}`,
            stepId: 'blend:all',
            kind: 'pink-level',
            value: levels[each.channel.id]!,
            resolution: 0.1,
            conditions: blendConditions(each, now),
            takenAt: new Date(clock * 60_000).toISOString(),
          },
        ],
  );
}
const stateOf = (chain: Chain, readings: Reading[], settings = SETTINGS) =>
  runStepIn('blend:all', situation(chain, settings, { readings, marks: allTicked(chain, settings) })).state as ReturnType<
    typeof runStepIn
  >['state'] & {
    figures: BlendFigures;
  };

describe('levels by pink noise', () => {
  it('six octaves and two that show what their octaves give are level', () => {
    // 10 lg 6 = 7.78 dB, 10 lg 2 = 3.01 dB: pink noise has the same power in every octave.
    const state = stateOf(CHAIN, readingsOf(CHAIN, { l: 77.8, r: 77.8, s: 73 }));
    expect(state.status).toBe('done');
    expect(codesOf(state)).toEqual(['ways-level']);
    expect(state.figures.rows.map(({ levelDb }) => levelDb!.toFixed(1))).toEqual(['70.0', '70.0', '70.0']);
  });

  it('sides that are apart are an error, ways that are apart a choice', () => {
    expect(stateOf(CHAIN, readingsOf(CHAIN, { l: 77.8, r: 74.8, s: 73 }))).toMatchObject({
      status: 'out-of-tolerance',
      findings: [{ code: 'sides-apart', grade: 'attention', figures: { louder: 'l' } }],
    });
    expect(stateOf(CHAIN, readingsOf(CHAIN, { l: 77.8, r: 77.8, s: 81 }))).toMatchObject({
      status: 'done',
      findings: [{ code: 'ways-apart', grade: 'note', figures: { louder: 's' } }],
    });
  });

  it('sides that are meant to differ may', () => {
    const meant = chainOf(channel('l', 'Front left', { differsFromPair: true }), channel('r', 'Front right'));
    expect(stateOf(meant, readingsOf(meant, { l: 77, r: 73 })).status).toBe('done');
  });

  it('the house’s curve is what ways are held against', () => {
    const houseCurve = [
      { hertz: 20, db: 8 },
      { hertz: 100, db: 8 },
      { hertz: 100.01, db: 0 },
    ];
    const settings = { ...SETTINGS, houseCurve };
    expect(codesOf(stateOf(CHAIN, readingsOf(CHAIN, { l: 77.8, r: 77.8, s: 81 }, settings), settings))).toEqual(['ways-level']);
  });

  it('is open until all are read, and stale where a level was set down since', () => {
    expect(stateOf(CHAIN, readingsOf(CHAIN, { l: 77.8, r: 77.8 })).status).toBe('open');
    const readings = readingsOf(CHAIN, { l: 77.8, r: 77.8, s: 73 });
    const down = { ...CHAIN, channels: CHAIN.channels.map((each) => (each.id === 's' ? { ...each, blendDb: 3 } : each)) };
    expect(stateOf(down, readings).status).toBe('stale');
  });
});
