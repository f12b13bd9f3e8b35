import { describe, expect, it } from 'vitest';
import { readQuantity } from '../ui/useDraft.ts';
import { driversOf, planAmplifierOf, type AmplifierDraft, type DriverRow } from './deskDraft.ts';

const row = (changes: Partial<DriverRow> = {}): DriverRow => ({ count: 2, coils: '2', coilOhm: '4', dcOhm: '', ratedWatt: '', ...changes });
const amplifier = (changes: Partial<AmplifierDraft> = {}): AmplifierDraft => ({
  mode: 'mono',
  terminalPairs: '1',
  minimumStereo: '',
  minimumBridged: '',
  minimumMono: '1',
  ratings: [],
  ...changes,
});

describe('drivers on the desk', () => {
  it('are lettered on through their kinds', () => {
    expect(driversOf([row(), row({ count: 1, coils: '1', coilOhm: '8 ohm', ratedWatt: '1.2k' })])).toEqual([
      { name: 'A', coils: 2, coilOhm: 4 },
      { name: 'B', coils: 2, coilOhm: 4 },
      { name: 'C', coils: 1, coilOhm: 8, ratedPowerWatt: 1200 },
    ]);
  });
  it('wait for an impedance that can be read', () => {
    expect(driversOf([row({ coilOhm: '' }), row({ coilOhm: 'four' }), row({ coilOhm: '0' }), row({ count: 1 })])).toEqual([
      { name: 'A', coils: 2, coilOhm: 4 },
    ]);
  });
  it('do without a rating or a measured figure that cannot be read', () => {
    expect(driversOf([row({ count: 1, dcOhm: '3,4', ratedWatt: 'lots' })])).toEqual([{ name: 'A', coils: 2, coilOhm: 4, coilDcOhm: 3.4 }]);
  });
  it('are never more than the planner takes', () => {
    expect(driversOf([row({ count: 8 }), row({ count: 8 })])).toHaveLength(8);
  });
});

describe('the amplifier on the desk', () => {
  it('is rated for the use that is chosen', () => {
    const ratings = [
      { ohm: '4', watt: '250' },
      { ohm: '2', watt: '' },
      { ohm: 'x', watt: '600' },
    ];
    expect(planAmplifierOf(amplifier({ ratings }))).toEqual({
      mode: 'mono',
      minimumMonoOhm: 1,
      ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 250 }],
    });
  });
  it('leaves out a lowest load that is not given', () => {
    expect(planAmplifierOf(amplifier({ mode: 'bridged', minimumMono: '', minimumStereo: '2', minimumBridged: '4' }))).toEqual({
      mode: 'bridged',
      minimumStereoOhm: 2,
      minimumBridgedOhm: 4,
      ratings: [],
    });
  });
});

describe('a figure as it is typed', () => {
  it.each([
    ['2', { value: 2 }],
    ['2,5 ohm', { value: 2.5 }],
    ['', {}],
    ['0', { fault: 'must be above 0' }],
  ])('“%s”', (text, read) => {
    expect(readQuantity(text, 'ohm')).toEqual(read);
  });
  it('says what it cannot read', () => {
    expect(readQuantity('many', 'ohm').fault).toMatch(/many/);
  });
});
