import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chainFaults } from '../job/chainFaults.ts';
import type { Amplifier, Driver } from '../job/chain.ts';
import { EMPTY_CHAIN } from '../job/newTune.ts';
import { chainFromGear } from './chainFromGear.ts';
import type { Gear } from './gear.ts';
import { gearRows, readGearRows } from './gearCsv.ts';

let serial = 0;
const newId = (): string => `id-${(serial += 1)}`;
const FOUR: Amplifier = {
  id: 'x',
  name: 'Four-channel, 4 × 60 W',
  minimumStereoOhm: 2,
  ratings: [
    { mode: 'stereo', loadOhm: 4, powerWatt: 60 },
    { mode: 'bridged', loadOhm: 4, powerWatt: 180 },
  ],
};
const MONO: Amplifier = { id: 'x', name: 'Mono', minimumMonoOhm: 2, ratings: [{ mode: 'mono', loadOhm: 2, powerWatt: 250 }] };
const driver = (name: string, role: Driver['role'], changes: Partial<Driver> = {}): Driver => ({
  id: 'd',
  name,
  coils: 1,
  coilOhm: 4,
  ratedPowerWatt: 60,
  ...(role === undefined ? {} : { role }),
  ...changes,
});

describe('a chain out of gear', () => {
  const DOOR = driver('Door 165 mm', 'woofer');
  const SUB = driver('Subwoofer 300 mm', 'subwoofer', { coils: 2, coilOhm: 4, ratedPowerWatt: 250 });

  it('has left and right on the stereo pair, and the bass wired for the most power on the mono amplifier', () => {
    const { chain, left } = chainFromGear(
      {
        amplifiers: [FOUR, MONO],
        drivers: [
          { driver: DOOR, count: 2 },
          { driver: SUB, count: 1 },
        ],
      },
      EMPTY_CHAIN,
      newId,
    );
    expect(left).toEqual([]);
    expect(chain.channels.map(({ name, terminals, mode, loadOhm, band }) => [name, terminals, mode, loadOhm, band])).toEqual([
      ['Door 165 mm left', 'A left', 'stereo', 4, 'full-range'],
      ['Door 165 mm right', 'A right', 'stereo', 4, 'full-range'],
      // Two coils of 4 ohm in parallel: the lowest that it takes, and the most power.
      ['Subwoofer 300 mm', 'out', 'mono', 2, 'bass'],
    ]);
    expect(chainFaults(chain)).toEqual([]);
  });

  it('has the filters that its drivers ask for: none is left without what keeps the bass from it', () => {
    const tweeter = driver('Dome 25 mm', 'tweeter', { usableFromHz: 2500, ratedPowerWatt: 20 });
    const { chain } = chainFromGear(
      {
        amplifiers: [{ ...FOUR, name: 'Eight, by its figure', channelCount: 4 }, MONO],
        drivers: [DOOR, tweeter].map((each) => ({ driver: each, count: 2 })).concat([{ driver: SUB, count: 1 }]),
      },
      EMPTY_CHAIN,
      newId,
    );
    const filtersOf = (name: string): string[] =>
      chain.channels.filter((channel) => channel.name.startsWith(name)).flatMap(({ filters = [] }) => filters.map(({ kind }) => kind));
    expect(filtersOf('Dome')).toEqual(['highpass', 'highpass']);
    expect(filtersOf('Subwoofer')).toContain('lowpass');
    expect(new Set(filtersOf('Door'))).toEqual(new Set(['highpass', 'lowpass']));
    expect(chain.channels.map(({ terminals }) => terminals)).toEqual(['A left', 'A right', 'B left', 'B right', 'out']);
  });

  it('has as many mono channels as an amplifier says', () => {
    const { chain } = chainFromGear(
      { amplifiers: [{ ...MONO, channelCount: 2 }], drivers: [1, 2].map(() => ({ driver: SUB, count: 1 })) },
      EMPTY_CHAIN,
      newId,
    );
    expect(chain.channels.map(({ mode, terminals }) => `${mode} ${terminals}`)).toEqual(['mono out 1', 'mono out 2']);
  });

  it('says which drivers no channel was left for', () => {
    const picked = { amplifiers: [MONO], drivers: [{ driver: DOOR, count: 2 }] };
    expect(chainFromGear(picked, EMPTY_CHAIN, newId).left).toEqual(['Door 165 mm']);
  });

  it('has no fault, whatever is picked, and no id twice', () =>
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(FOUR, MONO), { maxLength: 4 }),
        fc.array(fc.record({ driver: fc.constantFrom(DOOR, SUB, driver('Dome', 'tweeter')), count: fc.integer({ min: 1, max: 6 }) }), {
          maxLength: 4,
        }),
        (amplifiers, drivers) => {
          const { chain } = chainFromGear({ amplifiers, drivers }, EMPTY_CHAIN, newId);
          expect(chainFaults(chain)).toEqual([]);
          const ids = [...chain.amplifiers, ...chain.channels, ...chain.channels.flatMap((channel) => channel.drivers)].map(({ id }) => id);
          expect(new Set(ids).size).toBe(ids.length);
        },
      ),
      { numRuns: 60 },
    ));
});

describe('gear as a table', () => {
  const GEAR: Gear[] = [
    { kind: 'amplifier', body: { ...FOUR, inputMinVolt: 0.2, inputMaxVolt: 6, fuseAmpere: 40 } },
    { kind: 'driver', body: driver('=Door', 'woofer', { sensitivityDb: 90, usableFromHz: 60 }) },
    { kind: 'source', body: { name: 'Dash unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed', preampClaimVolt: 4 } },
    { kind: 'meter', body: { name: 'Bench meter', percent: 0.7, digits: 3, highestHz: 1000, trueRms: true, leadOhm: 0.2 } },
    { kind: 'meter', body: { name: 'Old one', percent: 2, digits: 5, highestHz: 400, trueRms: false } },
    { kind: 'microphone', body: { name: 'Thin microphone', calibration: [20, 1000, 16_000].map((hertz, k) => ({ hertz, db: k - 1.5 })) } },
    { kind: 'microphone', body: { name: 'Phone' } },
    {
      kind: 'dial',
      body: {
        id: 'd',
        name: 'LPF',
        kind: 'lowpass',
        family: 'linkwitz-riley',
        order: 4,
        stops: 'marks',
        table: [50, 63, 80].map((cornerHz, k) => ({ label: `${k + 1}`, cornerHz })),
        multipliers: [1, 10],
      },
    },
    { kind: 'equaliser', body: { name: 'In the processor', equaliser: { kind: 'parametric', bands: 10, maxQ: 12, qStep: 0.1 } } },
    { kind: 'equaliser', body: { name: 'Sliders', equaliser: { kind: 'graphic', centresHz: [63, 125, 250], q: 1.4 } } },
  ];
  const withoutId = ({ kind, body }: Gear): object => ({
    kind,
    ...Object.fromEntries(Object.entries(body).filter(([field]) => field !== 'id')),
  });
  const texts = (rows: readonly (readonly (string | number)[])[]): string[][] => rows.map((row) => row.map(String));

  it('comes back as it went out', () => {
    const { gear, faults } = readGearRows(texts(gearRows(GEAR)), newId);
    expect(faults).toEqual([]);
    expect(gear.map(withoutId)).toEqual(GEAR.map(withoutId));
  });

  it('takes columns in any order, an apostrophe off a name, and a prefix that fits the unit', () => {
    const { gear } = readGearRows(
      [
        ['Name', 'kind', 'each coil ohm', 'rated W', 'to Hz'],
        ["'=Door", 'Driver', '4 ohm', '60', '5k'],
      ],
      newId,
    );
    expect(gear).toMatchObject([{ kind: 'driver', body: { name: '=Door', coilOhm: 4, usableToHz: 5000 } }]);
  });

  it.each([
    ['another unit than the column’s', ['driver', 'Door', '4 V', '60'], 'Line 2: each coil ohm'],
    ['no kind that there is', ['speaker', 'Door', '4', '60'], '“speaker” is no kind of gear'],
    ['no name', ['driver', ' ', '4', '60'], 'it has no name'],
    ['a figure that is missing', ['driver', 'Door', '', '60'], 'each coil’s ohms'],
    ['words for a figure', ['driver', 'Door', 'four', '60'], 'is not a number'],
    ['a meter without its accuracy', ['meter', 'Old one', '', ''], 'accuracy in %'],
    ['an equaliser of no bands', ['equaliser', 'Sliders', '', ''], 'says how many'],
    ['a dial without a table', ['dial', 'LPF', '', ''], 'two stops or more'],
  ])('refuses %s, by its line', (_, row, words) => {
    const { gear, faults } = readGearRows([['kind', 'name', 'each coil ohm', 'rated W'], row], newId);
    expect(gear).toEqual([]);
    expect(faults.map(({ message }) => message).join(' ')).toContain(words);
  });

  it('refuses a table without its header, and a column that it does not know', () => {
    expect(readGearRows([['driver', 'Door']], newId).faults[0]!.message).toContain('The first line names the columns');
    expect(readGearRows([['kind', 'name', 'each coil V']], newId).faults[0]!.message).toContain('There is no column “each coil v”');
  });
});
