import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain } from '../../../job/chain.ts';
import type { StepMark, TuneSettings } from '../../../job/records.ts';
import { codesOf, runStepIn, seenTo, situation } from '../../testKit.fixture.ts';
import type { RunStep } from '../../run.ts';
import { polarityBasis, type PolarityDriver } from './kind.ts';

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
  runStepIn('polarity:a', situation(chain, SETTINGS, { marks: [...seenTo(chain, SETTINGS), ...marks] }));
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
    expect(state.findings[0]!.words).toContain('by ear');
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
