import {
  DEFAULT_RULES,
  seededRandom,
  voltageFactor,
  type Amplifier,
  type Chain,
  type Channel,
  type Driver,
  type TuneSettings,
} from '@yield/core';
import type { RealAmplifier, RealCar, RealLoad } from './car.ts';

/** A whole vehicle: what its owner tells of it, and what it really is. */
export interface MadeCar {
  name: string;
  family: Family;
  chain: Chain;
  settings: TuneSettings;
  real: RealCar;
  /** what is wrong with it that nobody told */
  fault?: PlacedFault;
}

export const FAMILIES = [
  'one sub',
  'four doors',
  'active three-way',
  'two-way with processor',
  'bridged',
  'one ohm',
  'camper with a long wire',
  'two subs',
  'capacitor tweeters',
  'two amplifiers at one sub',
  'factory source at speaker level',
  'own amplifier alone',
] as const;
export type Family = (typeof FAMILIES)[number];

export const FAULTS = [
  'wrong join',
  'short',
  'one coil only',
  'dead channel',
  'loudness left on',
  'boost left up',
  'hidden high-pass',
  'processor clips low',
  'source clips low',
  'weak supply',
  'boasting plate',
  'thin rails of one side',
] as const;
export type FaultKind = (typeof FAULTS)[number];

export interface PlacedFault {
  kind: FaultKind;
  channelId?: string;
  amplifierId?: string;
}

type Between = (low: number, high: number) => number;

/**
 * Vehicles of all families, every second one with something wrong. Made up; the same seed gives the same ones.
 *
 * @param count - how many
 * @param seed - another one, other vehicles
 */
export function madeCars(count: number, seed: string): MadeCar[] {
  return Array.from({ length: count }, (_, i) => madeCar(i, seed));
}

function madeCar(index: number, seed: string): MadeCar {
  const random = seededRandom(`car ${seed} ${index}`);
  const between: Between = (low, high) => low + (high - low) * random.uniform();
  const pick = <T>(of: readonly T[]): T => of[Math.floor(of.length * random.uniform())]!;
  const family = FAMILIES[index % FAMILIES.length]!;
  const chain = chainOf(family, between, pick);
  const steps = chain.source.volumeSteps;
  const isOwn = family === 'own amplifier alone';
  // Eighteen watts into four ohms at a speaker output.
  const topVolt = (chain.source.preampClaimVolt ?? (family === 'factory source at speaker level' ? 8.5 : 2)) * between(0.95, 1.25);
  const [stepDb, bend] = [between(0.8, 2), between(-0.012, 0.012)];
  const voltAtStep = Array.from({ length: steps + 1 }, (__, step) => {
    const below = steps - step;
    return step === 0 ? 0 : topVolt * voltageFactor(-(stepDb * below + bend * below ** 2) + 0.03 * random.normal());
  });
  // Some clip some steps below the end of the scale, some just at it, some never.
  const clipsAt = pick([0.62, 0.75, 0.86, 0.97, 1.3]);
  const real: RealCar = {
    seed: `car ${seed} ${index}`,
    source: {
      voltAtStep,
      // Inside the source nothing clips before its own amplifier.
      railVolt: isOwn ? Infinity : Math.SQRT2 * topVolt * clipsAt,
      limiting: pick(['hard', 'soft'] as const),
      ...(chain.source.isFactory === true ? { holdsBackFrom: Math.round(steps * pick([0.5, 0.7, 2])) } : {}),
    },
    ...(chain.processor === undefined
      ? {}
      : { processor: { inputRailVolt: between(3, 6), outputRailVolt: Math.SQRT2 * chain.processor.outputVolt * between(1.15, 1.6) } }),
    amplifierOf: Object.fromEntries(
      chain.amplifiers.map((amplifier) => [amplifier.id, realAmplifier(amplifier, chain, family, between, pick)]),
    ),
    loadOf: Object.fromEntries(chain.channels.map((channel) => [channel.id, realLoad(channel, between)])),
  };
  const settings: TuneSettings = {
    rules: {
      ...DEFAULT_RULES,
      toneLevelDbfs: pick([0, 0, -5]),
      bassToneHz: pick([40, 50]),
      gainBy: pick(['meter', 'meter', 'scope'] as const),
    },
    meter: { percent: Math.round(between(0.5, 1.5) * 10) / 10, digits: 3, highestHz: pick([1000, 5000]), trueRms: true, leadOhm: 0.2 },
    isPractice: true,
  };
  const made: MadeCar = { name: `${family} ${index + 1}`, family, chain, settings, real };
  // Every family is seen both sound and with a fault.
  const isSound = (index + Math.floor(index / FAMILIES.length)) % 2 === 0;
  return isSound ? made : withFault(made, pick(FAULTS), pick, between);
}

function withFault(made: MadeCar, kind: FaultKind, pick: <T>(of: readonly T[]) => T, between: Between): MadeCar {
  const { real, chain } = made;
  const channel = pick(chain.channels);
  const { amplifierId } = channel;
  const amplifier = real.amplifierOf[amplifierId]!;
  const withLoad = (change: Partial<RealLoad>): MadeCar => ({
    ...made,
    fault: { kind, channelId: channel.id },
    real: { ...real, loadOf: { ...real.loadOf, [channel.id]: { ...real.loadOf[channel.id]!, ...change } } },
  });
  const withAmplifier = (change: Partial<RealAmplifier>): MadeCar => ({
    ...made,
    fault: { kind, amplifierId },
    real: { ...real, amplifierOf: { ...real.amplifierOf, [amplifierId]: { ...amplifier, ...change } } },
  });
  const coils = channel.drivers.reduce((sum, driver) => sum + driver.coils, 0);
  switch (kind) {
    case 'wrong join':
      return coils > 1 ? withLoad({ wiring: 'other-join' }) : made;
    case 'one coil only':
      return coils > 1 ? withLoad({ wiring: 'one-coil' }) : made;
    case 'short':
      return withLoad({ wiring: 'short' });
    case 'dead channel':
      return withLoad({ isDead: true });
    case 'loudness left on':
      return {
        ...made,
        fault: { kind },
        real: { ...real, source: { ...real.source, hiddenBell: { hertz: 55, db: between(4, 8), q: 0.7 } } },
      };
    case 'boost left up':
      return withAmplifier({ hiddenBell: { hertz: 45, db: between(5, 9), q: 1.2 } });
    case 'hidden high-pass':
      return withAmplifier({ hiddenHighpassHz: between(90, 150) });
    case 'processor clips low':
      return real.processor === undefined
        ? made
        : { ...made, fault: { kind }, real: { ...real, processor: { ...real.processor, outputRailVolt: between(2.4, 3.4) } } };
    case 'source clips low':
      return { ...made, fault: { kind }, real: { ...real, source: { ...real.source, railVolt: real.source.railVolt * 0.55 } } };
    case 'weak supply':
      return withAmplifier({ supplyVolt: between(11.2, 12.2), supplyOhm: amplifier.supplyOhm * 3, isRegulated: false });
    case 'boasting plate':
      return withAmplifier({ railVolt: amplifier.railVolt * between(0.55, 0.8) });
    case 'thin rails of one side':
      return withAmplifier({ sourceOhm: amplifier.sourceOhm * 4 });
  }
}

function realAmplifier(
  amplifier: Amplifier,
  chain: Chain,
  family: Family,
  between: Between,
  pick: <T>(of: readonly T[]) => T,
): RealAmplifier {
  const channel = chain.channels.find(({ amplifierId }) => amplifierId === amplifier.id)!;
  const rating =
    amplifier.ratings.find(({ mode, loadOhm }) => mode === channel.mode && loadOhm === channel.loadOhm) ?? amplifier.ratings[0]!;
  const ratedVolt = Math.sqrt(rating.powerWatt * rating.loadOhm);
  const sourceOhm = rating.loadOhm * between(0.01, 0.05);
  const makes = between(0.85, 1.15);
  // The source's own amplifier has no knob: at the highest step it is driven somewhat beyond its rails.
  const fixed = amplifier.isInSource === true ? (ratedVolt / (chain.source.preampClaimVolt ?? 2)) * between(0.9, 1.4) : undefined;
  return {
    lowestGain: fixed ?? ratedVolt / amplifier.inputMaxVolt!,
    highestGain: fixed ?? ratedVolt / amplifier.inputMinVolt!,
    railVolt: Math.SQRT2 * ratedVolt * makes * (1 + sourceOhm / rating.loadOhm),
    sourceOhm,
    limiting: pick(['hard', 'soft'] as const),
    isRegulated: between(0, 1) < 0.3,
    supplyVolt: between(12.8, 14.3),
    // Not more than a volt or so of what all the power would take; the camper's wire three times that.
    supplyOhm: ((family === 'camper with a long wire' ? 2.2 : 0.7) * 13.8 * 0.75) / Math.max(60, rating.powerWatt),
  };
}

/** An enclosure's resonance, and the coil's own inductance; falls to nine tenths where a driver draws most. */
function realLoad({ band, drivers }: Channel, between: Between): RealLoad {
  const resonanceHz = band === 'bass' ? between(30, 60) : drivers[0]?.role === 'tweeter' ? between(900, 1500) : between(60, 110);
  const [height, q, coilHz] = [between(1.5, 4), between(1.5, 3), between(900, 2500) * (drivers[0]?.role === 'tweeter' ? 12 : 1)];
  return {
    wiring: 'right',
    riseAt: (hertz) => {
      const detuned = q * (hertz / resonanceHz - resonanceHz / hertz);
      return 0.92 + height / (1 + detuned ** 2) + 0.25 * (hertz / coilHz);
    },
  };
}

function chainOf(family: Family, between: Between, pick: <T>(of: readonly T[]) => T): Chain {
  const volumeSteps = pick([30, 35, 40, 50]);
  const source: Chain['source'] = {
    name: 'Dash unit',
    volumeSteps,
    workingVolume: Math.round(volumeSteps * 0.75),
    volumeBasis: 'assumed',
    preampClaimVolt: pick([2, 2.5, 4, 5]),
  };
  const round = (watt: number): number => Math.round(watt / 5) * 5;
  const amplifier = (id: string, ratings: Amplifier['ratings'], more: Partial<Amplifier> = {}): Amplifier => ({
    id,
    name: `Amplifier ${id}`,
    ratings,
    inputMinVolt: between(0.2, 0.4),
    inputMaxVolt: between(5, 8),
    ...more,
  });
  const driver = (id: string, name: string, coils: 1 | 2, coilOhm: number, watt: number, more: Partial<Driver>): Driver => ({
    id,
    name,
    coils,
    coilOhm,
    ratedPowerWatt: round(watt),
    ...more,
  });
  const channel = (
    id: string,
    name: string,
    amplifierId: string,
    more: Pick<Channel, 'mode' | 'terminals' | 'band' | 'loadOhm' | 'drivers'> & Partial<Channel>,
  ): Channel => ({
    id,
    name,
    amplifierId,
    ...more,
  });
  const SUB = { role: 'subwoofer', usableFromHz: 25, usableToHz: 250 } as const;
  const DOOR = { role: 'full-range', usableFromHz: 60, usableToHz: 18_000 } as const;
  const lowpass = (id: string, place: 'amplifier' | 'processor' = 'amplifier'): NonNullable<Channel['filters']> => [
    { id: `${id}-lp`, place, kind: 'lowpass', family: 'butterworth', order: 4, cornerHz: pick([80, 100, 120]) },
  ];
  const highpass = (id: string, cornerHz: number, place: 'amplifier' | 'processor' = 'amplifier'): NonNullable<Channel['filters']> => [
    {
      id: `${id}-hp`,
      place,
      kind: 'highpass',
      family: place === 'amplifier' ? 'butterworth' : 'linkwitz-riley',
      order: place === 'amplifier' ? 2 : 4,
      cornerHz,
    },
  ];
  const sub = (id: string, amplifierId: string, watt: number, loadOhm: number, more: Partial<Channel> = {}): Channel =>
    channel(id, 'Bass', amplifierId, {
      mode: 'mono',
      terminals: 'Sub',
      band: 'bass',
      loadOhm,
      drivers: [driver(`${id}-d`, 'Subwoofer', 1, loadOhm, watt * between(1.1, 2), SUB)],
      wiring: { network: 'A1' },
      filters: lowpass(id),
      ...more,
    });
  switch (family) {
    case 'one sub':
    case 'camper with a long wire': {
      const watt = round(between(150, 900));
      const loadOhm = pick([2, 4]);
      return {
        source,
        amplifiers: [amplifier('amp', [{ mode: 'mono', loadOhm, powerWatt: watt }], { minimumMonoOhm: loadOhm })],
        channels: [sub('bass', 'amp', watt, loadOhm)],
      };
    }
    case 'one ohm': {
      const watt = round(between(400, 1500));
      const drivers = [driver('bass-d', 'Subwoofer, dual coil', 2, 2, watt * between(1.1, 1.6), SUB)];
      return {
        source,
        amplifiers: [amplifier('amp', [{ mode: 'mono', loadOhm: 1, powerWatt: watt }], { minimumMonoOhm: 1 })],
        channels: [sub('bass', 'amp', watt, 1, { drivers, wiring: { network: 'A1|A2' } })],
      };
    }
    case 'two subs': {
      const watt = round(between(300, 1000));
      const each = (n: number): Driver => driver(`bass-d${n}`, `Subwoofer ${n}`, 1, 4, (watt / 2) * between(1.1, 1.6), SUB);
      return {
        source,
        amplifiers: [amplifier('amp', [{ mode: 'mono', loadOhm: 2, powerWatt: watt }], { minimumMonoOhm: 2 })],
        channels: [sub('bass', 'amp', watt, 2, { drivers: [each(1), each(2)], wiring: { network: 'A1|B1' } })],
      };
    }
    case 'bridged': {
      const watt = round(between(120, 500));
      const ratings: Amplifier['ratings'] = [
        { mode: 'bridged', loadOhm: 4, powerWatt: watt },
        { mode: 'stereo', loadOhm: 4, powerWatt: round(watt / 3) },
      ];
      return {
        source,
        amplifiers: [amplifier('amp', ratings, { minimumStereoOhm: 2, minimumBridgedOhm: 4, channelCount: 2 })],
        channels: [sub('bass', 'amp', watt, 4, { mode: 'bridged', terminals: 'Left + and right −' })],
      };
    }
    case 'two amplifiers at one sub': {
      const watt = round(between(200, 700));
      const coil = (id: string): Driver => driver(`${id}-d`, 'Subwoofer, one of its coils', 1, 2, watt * 1.3, SUB);
      const filters = lowpass('bass');
      const half = (id: string, name: string, amplifierId: string, otherId: string): Channel => ({
        ...sub(id, amplifierId, watt, 2, { drivers: [coil(id)], pairedWith: otherId }),
        name,
        filters: filters.map((filter) => ({ ...filter, id: `${id}-lp` })),
      });
      return {
        source,
        amplifiers: ['a', 'b'].map((id) => amplifier(id, [{ mode: 'mono', loadOhm: 2, powerWatt: watt }], { minimumMonoOhm: 2 })),
        channels: [half('coil-1', 'Bass, first coil', 'a', 'coil-2'), half('coil-2', 'Bass, second coil', 'b', 'coil-1')],
      };
    }
    case 'factory source at speaker level': {
      const watt = round(between(200, 600));
      const { preampClaimVolt: _none, ...factory } = source;
      return {
        source: { ...factory, isFactory: true, outputs: ['speakers'], speakerLoadOhm: 4 },
        amplifiers: [
          amplifier('amp', [{ mode: 'mono', loadOhm: 2, powerWatt: watt }], {
            minimumMonoOhm: 2,
            inputMinVolt: between(0.8, 1.5),
            inputMaxVolt: between(16, 30),
          }),
        ],
        channels: [sub('bass', 'amp', watt, 2)],
      };
    }
    case 'own amplifier alone': {
      const watt = pick([18, 22]);
      const each = (id: string, name: string): Channel =>
        channel(id, name, 'own', {
          mode: 'stereo',
          terminals: name,
          band: 'full-range',
          loadOhm: 4,
          drivers: [driver(`${id}-d`, 'Door 130 mm', 1, 4, 40, DOOR)],
          wiring: { network: 'A1' },
        });
      return {
        source: { ...source, outputs: ['speakers'], speakerLoadOhm: 4 },
        amplifiers: [
          {
            id: 'own',
            name: 'Inside the source',
            isInSource: true,
            ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: watt }],
            minimumStereoOhm: 4,
            channelCount: 2,
          },
        ],
        channels: [each('left', 'Front left'), each('right', 'Front right')],
      };
    }
    case 'four doors':
    case 'capacitor tweeters': {
      const watt = round(between(40, 110));
      const isPassive = family === 'capacitor tweeters';
      const each = (id: string, name: string): Channel =>
        channel(id, name, 'amp', {
          mode: 'stereo',
          terminals: name,
          band: 'full-range',
          loadOhm: 4,
          drivers: [
            driver(
              `${id}-d`,
              'Door 165 mm',
              1,
              4,
              watt * between(1, 1.8),
              isPassive ? { role: 'woofer', usableFromHz: 60, usableToHz: 5000 } : DOOR,
            ),
            ...(isPassive
              ? [driver(`${id}-t`, 'Dome 25 mm', 1, 4, watt * between(0.6, 1), { role: 'tweeter', usableFromHz: 3000, usableToHz: 20_000 })]
              : []),
          ],
          wiring: { network: isPassive ? 'A1|B1' : 'A1' },
          filters: highpass(id, pick([80, 100])),
          ...(isPassive
            ? { passive: [{ id: `${id}-cap`, driverId: `${id}-t`, kind: 'highpass' as const, capacitanceFarad: 6.8e-6 }] }
            : {}),
        });
      const names: [string, string][] = [
        ['fl', 'Front left'],
        ['fr', 'Front right'],
        ...(isPassive
          ? []
          : ([
              ['rl', 'Rear left'],
              ['rr', 'Rear right'],
            ] as [string, string][])),
      ];
      const channels = names.map(([id, name]) => each(id, name));
      // Both sides of a pair are of one kind.
      const alike = channels.map((each_, i) =>
        i % 2 === 0
          ? each_
          : {
              ...each_,
              drivers: each_.drivers.map((d, k) => ({ ...d, ratedPowerWatt: channels[i - 1]!.drivers[k]!.ratedPowerWatt })),
              filters: each_.filters!.map((f, k) => ({ ...f, cornerHz: channels[i - 1]!.filters![k]!.cornerHz })),
            },
      );
      return {
        source,
        amplifiers: [amplifier('amp', [{ mode: 'stereo', loadOhm: 4, powerWatt: watt }], { minimumStereoOhm: 2, channelCount: 4 })],
        channels: alike,
      };
    }
    case 'active three-way':
    case 'two-way with processor': {
      const watt = round(between(50, 120));
      const ways = family === 'active three-way' ? (['tweeter', 'middle', 'door'] as const) : (['tweeter', 'door'] as const);
      const filtersOf = (way: string, id: string): NonNullable<Channel['filters']> =>
        way === 'tweeter'
          ? highpass(id, 4000, 'processor')
          : way === 'middle'
            ? [
                ...highpass(id, 400, 'processor'),
                { id: `${id}-lp`, place: 'processor', kind: 'lowpass', family: 'linkwitz-riley', order: 4, cornerHz: 4000 },
              ]
            : [
                ...highpass(id, 80, 'processor'),
                {
                  id: `${id}-lp`,
                  place: 'processor',
                  kind: 'lowpass',
                  family: 'linkwitz-riley',
                  order: 4,
                  cornerHz: family === 'active three-way' ? 400 : 4000,
                },
              ];
      const driverOf = (way: string, id: string): Driver =>
        way === 'tweeter'
          ? driver(id, 'Dome 25 mm', 1, 4, watt * 0.8, { role: 'tweeter', usableFromHz: 2000, usableToHz: 20_000 })
          : way === 'middle'
            ? driver(id, 'Cone 80 mm', 1, 4, watt * 0.9, { role: 'midrange', usableFromHz: 200, usableToHz: 8000 })
            : driver(id, 'Cone 165 mm', 1, 4, watt * 1.3, { role: 'woofer', usableFromHz: 50, usableToHz: 6000 });
      const channels = ways.flatMap((way) =>
        (['left', 'right'] as const).map((side) => {
          const id = `${way}-${side}`;
          return channel(id, `${way[0]!.toUpperCase()}${way.slice(1)} ${side}`, 'amp', {
            mode: 'stereo',
            terminals: `${way} ${side}`,
            band: 'full-range',
            loadOhm: 4,
            drivers: [driverOf(way, `${id}-d`)],
            wiring: { network: 'A1' },
            processorOutputId: `out-${id}`,
            filters: filtersOf(way, id),
          });
        }),
      );
      return {
        source: { ...source, outputs: ['preamp-front'] },
        processor: {
          name: 'Line processor',
          inputs: [{ id: 'front', name: 'Front', output: 'preamp-front' }],
          outputs: channels.map(({ id, name }) => ({ id: `out-${id}`, name })),
          outputVolt: pick([2, 3, 4]),
          hasClipLight: between(0, 1) < 0.7,
        },
        amplifiers: [
          amplifier('amp', [{ mode: 'stereo', loadOhm: 4, powerWatt: watt }], { minimumStereoOhm: 2, channelCount: channels.length }),
        ],
        channels,
      };
    }
  }
}
