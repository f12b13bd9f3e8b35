import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../../../job/chain.ts';
import type { LoadTrace, StepMark, TuneSettings } from '../../../job/records.ts';
import { codesOf, runStepIn, allTicked, situation } from '../../testKit.fixture.ts';
import type { RunStep } from '../../run.ts';
import { polarityBasis, polarityByPulse, type PolarityDriver } from './kind.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Mono', minimumMonoOhm: 1, ratings: [{ mode: 'mono', loadOhm: 2, powerWatt: 300 }] }],
  channels: [
    {
      id: 'bass',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'mono',
      band: 'bass',
      loadOhm: 2,
      drivers: ['a', 'b'].map((id) => ({ id, name: `Sub ${id}`, coils: 1, coilOhm: 4, ratedPowerWatt: 300, role: 'subwoofer' })),
      wiring: { network: 'A1|B1' },
    },
  ],
};
const stepIn = (marks: StepMark[], chain = CHAIN): RunStep =>
  runStepIn('polarity:a', situation(chain, SETTINGS, { marks: [...allTicked(chain, SETTINGS), ...marks] }));
const basis = polarityBasis(stepIn([]).step as unknown as PolarityDriver);
const found = (what: string, way = 'touch'): StepMark => ({
  stepId: 'polarity:a',
  checks: [what],
  values: { way },
  basis: basis.key,
  basisWords: basis.words,
});

describe('the polarity of a driver', () => {
  it('is asked of each once, by its own name', () => {
    expect(stepIn([])).toMatchObject({ title: 'Polarity: Bass, Sub a', state: { status: 'open' } });
  });
  it('is done when it pushes out, told with how it was found', () => {
    const { state } = stepIn([found('right', 'ear')]);
    expect(state).toMatchObject({ status: 'done', figures: { found: 'right', way: 'ear' } });
    expect(say(state.findings[0]!).text).toContain('by ear');
  });
  it('reversed wants its wires swapped, unclear another way', () => {
    expect(stepIn([found('reversed')]).state).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'tick', checks: ['right'] } });
    expect(codesOf(stepIn([found('reversed')]).state)).toEqual(['polarity-reversed']);
    expect(codesOf(stepIn([found('unclear')]).state)).toEqual(['polarity-unclear']);
  });
  it('says nothing of other wires, and does not mind a change of the volume', () => {
    const rewired = { ...CHAIN, channels: [{ ...CHAIN.channels[0]!, wiring: { network: 'A1+B1' }, loadOhm: 8 }] };
    expect(stepIn([found('right')], rewired).state).toMatchObject({ status: 'stale' });
    const softer = { ...CHAIN, source: { ...CHAIN.source, workingVolume: 20 } };
    expect(stepIn([found('right')], softer).state.status).toBe('done');
  });
  it('plays nothing before somebody looked at the filters', () => {
    expect(runStepIn('polarity:a', situation(CHAIN, SETTINGS)).gate.isLocked).toBe(true);
    expect(stepIn([]).gate.isLocked).toBe(false);
  });
});

describe('a recorded pulse', () => {
  const recorded = (polarity: string): LoadTrace =>
    ({
      id: 'p',
      stepId: 'polarity:a',
      fileName: 'pulse.wav',
      channelIndex: 0,
      analysis: { channels: [{ name: 'left', pulse: { polarity, peakAboveNoiseDb: 30 } }] },
      conditions: { at: 'air', channelId: 'bass', position: 'listener’s head', pulse: true },
      takenAt: new Date(60_000).toISOString(),
    }) as unknown as LoadTrace;
  const stateWith = (polarity: string, mark: StepMark) =>
    runStepIn('polarity:a', situation(CHAIN, SETTINGS, { marks: [...allTicked(CHAIN, SETTINGS), mark], traces: [recorded(polarity)] }))
      .state;
  const marked = (what: string, inverts: string): StepMark => ({ ...found(what, 'pulse'), values: { way: 'pulse', inverts } });

  it('stands beside what was written down, and contradicts it where it shows the other way', () => {
    expect(stateWith('positive', marked('right', 'no')).status).toBe('done');
    expect(codesOf(stateWith('negative', marked('right', 'no')))).toEqual(['pulse-contradicts']);
    expect(stateWith('negative', marked('right', 'yes')).status).toBe('done');
    expect(codesOf(stateWith('positive', marked('reversed', 'no')))).toEqual(['pulse-contradicts']);
  });
  it('that cannot be told contradicts nothing, nor does it speak against a touch', () => {
    expect(stateWith('unclear', marked('right', 'no')).status).toBe('done');
    expect(stateWith('negative', found('right', 'touch')).status).toBe('done');
  });
  it.each([
    ['positive', false, false, 'right'],
    ['negative', false, false, 'reversed'],
    ['negative', true, false, 'right'],
    ['negative', false, true, 'right'],
    ['negative', true, true, 'reversed'],
    ['unclear', true, true, 'unclear'],
  ] as const)('%s, input inverting %s, channel reversed %s: %s', (polarity, inverts, isSet, expected) => {
    expect(polarityByPulse({ polarity }, inverts, isSet)).toBe(expected);
  });
});
