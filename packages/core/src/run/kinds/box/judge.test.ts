import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Driver } from '../../../job/chain.ts';
import type { OhmReading, TuneSettings } from '../../../job/records.ts';
import { networkText, parseNetwork } from '../../../loads/network.ts';
import { partOfDriver } from '../../../loads/networkParts.ts';
import { runOf } from '../../run.ts';
import { situation } from '../../testKit.fixture.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, leadOhm: 0.2, highestHz: 1000, trueRms: true } };
const driver = (id: string): Driver => ({ id, name: `Subwoofer ${id}`, coils: 2, coilOhm: 4, ratedPowerWatt: 300 });
const chain = (network: string, loadOhm: number): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 1, powerWatt: 500 }], minimumMonoOhm: 1 }],
  channels: [
    {
      id: 'bass',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'SUB',
      band: 'bass',
      loadOhm,
      drivers: [driver('1'), driver('2')],
      wiring: { network },
    },
  ],
});
const boxes = (of: Chain, readings: OhmReading[] = []) =>
  runOf(situation(of, SETTINGS, { readings })).filter(({ kind }) => kind.kind === 'box');

describe('the part of a wiring that is one driver’s', () => {
  const coils = new Set(['A1', 'A2', 'B1', 'B2']);
  it.each([
    ['(A1+A2)|(B1+B2)', 'A1+A2'],
    ['A1|A2|B1|B2', 'A1|A2'],
    ['(A1|A2)+(B1|B2)', 'A1|A2'],
    ['A1+A2+B1+B2', 'A1+A2'],
    ['(A1+B1)|(A2+B2)', undefined],
  ])('of %s is %s', (network, wanted) => {
    const part = partOfDriver(parseNetwork(network, coils), new Set(['A1', 'A2']));
    expect(part === undefined ? undefined : networkText(part)).toBe(wanted);
  });
});

describe('own terminals', () => {
  const read = (of: Chain, value: number): OhmReading => {
    const { kind, step, id } = boxes(of)[0]!;
    const conditions = kind.conditions!(step, situation(of, SETTINGS)) as OhmReading['conditions'];
    return { id: 'r', stepId: id, kind: 'box-resistance', value, resolution: 0.1, conditions, takenAt: new Date(0).toISOString() };
  };
  const parallel = chain('(A1|A2)|(B1|B2)', 1);

  it('are offered for each driver whose coils hang together, and missed by nobody', () => {
    const steps = boxes(parallel);
    expect(steps.map(({ title }) => title)).toEqual(['Enclosure wiring: Subwoofer 1', 'Enclosure wiring: Subwoofer 2']);
    expect(steps.every(({ isSettled }) => isSettled)).toBe(true);
    expect(boxes(chain('(A1+B1)|(A2+B2)', 4))).toEqual([]);
  });
  // Two coils of 4 ohm in parallel: 2 ohm, some 1.6 on the ohmmeter, 1.8 with the leads.
  it('take a right reading', () => {
    expect(boxes(parallel, [read(parallel, 1.8)])[0]!.state).toMatchObject({ status: 'done' });
  });
  // In series they would read 6.4, one coil alone 3.2.
  it.each([
    ['coils in series', 6.6, 'whole-other-wiring'],
    ['one coil connected', 3.4, 'whole-one-coil-only'],
  ])('tell %s', (_, value, code) => {
    const { status, findings } = boxes(parallel, [read(parallel, value)])[0]!.state;
    expect(status).toBe('out-of-tolerance');
    expect(findings.map((finding) => finding.code)).toContain(code);
  });
  it('ask again once the coils are joined otherwise', () => {
    const reading = read(parallel, 1.8);
    expect(boxes(chain('(A1+A2)|(B1+B2)', 4), [reading])[0]!.state.status).toBe('stale');
  });
});
