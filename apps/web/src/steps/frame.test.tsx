// The frame of the steps as a browser shows it: what a kind declares is all that rail, tone and help go by.
import {
  DEFAULT_RULES,
  KINDS,
  newSituation,
  runOf,
  type Chain,
  type Driver,
  type Gate,
  type StepKind,
  type TuneSettings,
} from '@yield/core';
import { renderToStaticMarkup } from 'react-dom/server';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { madeUp } from '../../../../packages/core/src/run/madeUpKind.fixture.ts';
import { StepHelp } from '../app/KeyHelp.tsx';
import { StepRail } from '../run/StepRail.tsx';
import { Tone } from './kit/Tone.tsx';
import { VIEWS } from './registry.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const DOOR: Driver = { id: 'd', name: 'Door', coils: 1, coilOhm: 4, ratedPowerWatt: 150 };
const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }], minimumStereoOhm: 4 }],
  channels: [
    { id: 'left', name: 'Left', amplifierId: 'amp', mode: 'stereo', terminals: 'L', band: 'full-range', loadOhm: 4, drivers: [DOOR] },
  ],
};
const kinds: readonly StepKind[] = [...KINDS, madeUp];
const steps = (of: readonly StepKind[] = KINDS) => runOf(newSituation(CHAIN, SETTINGS, { readings: [], traces: [], marks: [] }), of);

const rail = (of: readonly StepKind[], at: string): string =>
  renderToStaticMarkup(
    <MemoryRouter initialEntries={[`/${at}`]}>
      <StepRail tuneId="t" run={{ steps: steps(of).filter(({ kind }) => kind.stage === 'proof') }} />
    </MemoryRouter>,
  );
const tone = (gate: Gate): string => renderToStaticMarkup(<Tone hertz={1000} levelDbfs={0} gate={gate} />);

describe('the rail', () => {
  it('shows a kind that is registered, and counts only what is missed', () => {
    expect(rail(kinds, '')).toContain('Made up: Left');
    expect(rail(KINDS, '')).not.toContain('Made up');
    // A proof is missed; a load pair is there, and missed by nobody.
    expect(rail(KINDS, '')).toContain('Load pair: Left');
    const missed = (of: typeof kinds): number => Number(/0 of (\d+)/.exec(rail(of, ''))?.[1]);
    expect(missed(kinds)).toBe(missed(KINDS) + 1);
  });
});

describe('a tone', () => {
  it.each(steps(kinds).filter(({ kind }) => kind.plays === 'load'))(
    'of $title does not play before its filters were looked at',
    ({ gate }) => {
      expect(tone(gate)).toMatch(/<button[^>]*disabled/);
    },
  );
  it('of a step at line level plays', () => {
    const ceiling = steps().find(({ kind }) => kind.kind === 'ceiling')!;
    expect(tone(ceiling.gate)).not.toMatch(/disabled/);
  });
});

describe('the help', () => {
  it('lists every kind that is registered', () => {
    const html = renderToStaticMarkup(<StepHelp kinds={kinds} />);
    for (const { title } of kinds) expect(html).toContain(title);
  });
});

describe('the views', () => {
  it('are there for every kind', () => {
    expect(Object.keys(VIEWS).sort()).toEqual(KINDS.map(({ kind }) => kind).sort());
  });
});
