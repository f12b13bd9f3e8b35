import type { Chain, Detent, Dial, Driver, Meter } from '@yield/core';

// All made up: a small workshop's three jobs. Gear is described by its figures.

export const WORKSHOP_METER: Meter = {
  percent: 1,
  digits: 3,
  highestHz: 1000,
  trueRms: true,
  leadOhm: 0.2,
  ohmPercent: 1,
  ohmDigitsOhm: 0.1,
};

/** The printed table of a dial: so many clicks from one corner to another, even in octaves. */
function clicks(from: number, to: number, count: number): Detent[] {
  return Array.from({ length: count }, (_, i) => ({
    label: String(i + 1),
    cornerHz: Number((from * (to / from) ** (i / (count - 1))).toPrecision(2)),
  }));
}

const HIGHPASS_DIAL: Dial = {
  id: 'hp-dial',
  name: 'HPF',
  kind: 'highpass',
  family: 'butterworth',
  order: 2,
  stops: 'clicks',
  table: clicks(40, 400, 31),
  multipliers: [1, 10],
};
const LOWPASS_DIAL: Dial = {
  id: 'lp-dial',
  name: 'LPF',
  kind: 'lowpass',
  family: 'butterworth',
  order: 4,
  stops: 'marks',
  table: [40, 60, 80, 120, 200].map((cornerHz) => ({ label: String(cornerHz), cornerHz })),
  multipliers: [1],
};

type Way = [id: string, name: string, driver: string, coilOhm: number, ratedPowerWatt: number, range: Partial<Driver>];

const WAYS: Way[] = [
  [
    'tweeter',
    'Tweeter',
    'Dome 25 mm',
    4,
    60,
    {
      role: 'tweeter',
      usableFromHz: 2000,
      usableToHz: 20_000,
      recommended: [
        { order: 2, fromHz: 3500 },
        { order: 4, fromHz: 2500 },
      ],
    },
  ],
  ['middle', 'Middle', 'Cone 80 mm', 4, 60, { role: 'midrange', usableFromHz: 250, usableToHz: 6000 }],
  ['door', 'Door', 'Cone 165 mm', 4, 90, { role: 'woofer', usableFromHz: 60, usableToHz: 1500 }],
];
/** Every way on both sides. */
const SIDES_AND_WAYS: Way[] = WAYS.flatMap(([id, name, ...rest]) =>
  ['left', 'right'].map((side): Way => [`${id}-${side}`, `${name} ${side}`, ...rest]),
);

const DOOR = { role: 'full-range', usableFromHz: 60, usableToHz: 18_000 } as const;
const CEILING = { role: 'full-range', usableFromHz: 80, usableToHz: 18_000 } as const;

/** A high-pass at a click of the four-channel amplifier's dial. */
function highpass(id: string, click: number): NonNullable<Chain['channels'][number]['filters']>[number] {
  const { kind, family, order, table } = HIGHPASS_DIAL;
  return { id, place: 'amplifier', kind, family, order, cornerHz: table[click]!.cornerHz, dial: { id: 'hp-dial', click, multiplier: 1 } };
}

/** Speech and music for readers on the road: four full-range channels and a small bass channel. */
export const LIBRARY_BUS: Chain = {
  source: {
    name: 'Dash unit, 4 V preamp',
    volumeSteps: 40,
    workingVolume: 34,
    volumeBasis: 'measured',
    outputVolt: 3.1,
    ceilingVolt: 3.6,
    inputs: ['stick', 'phone'],
    outputs: ['preamp-front', 'preamp-sub'],
    cases: [
      { id: 'flat', name: 'Flat', used: true },
      { id: 'sub-2', name: 'Sub level +2', used: true, subNotches: 2 },
      { id: 'bass-4', name: 'Bass +4', used: false, bassRaised: true },
    ],
    preampClaimVolt: 4,
  },
  amplifiers: [
    {
      id: 'amp-four',
      name: 'Four-channel, 4 × 60 W',
      ratings: [
        { mode: 'stereo', loadOhm: 4, powerWatt: 60 },
        { mode: 'stereo', loadOhm: 2, powerWatt: 90 },
        { mode: 'bridged', loadOhm: 4, powerWatt: 180 },
      ],
      minimumStereoOhm: 2,
      minimumBridgedOhm: 4,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
      fuseAmpere: 40,
      dials: [HIGHPASS_DIAL],
    },
    {
      id: 'amp-mono',
      name: 'Mono, 250 W at 2 Ω',
      ratings: [
        { mode: 'mono', loadOhm: 4, powerWatt: 150 },
        { mode: 'mono', loadOhm: 2, powerWatt: 250 },
      ],
      minimumMonoOhm: 2,
      terminalPairs: 2,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
      fuseAmpere: 30,
      dials: [LOWPASS_DIAL],
    },
  ],
  channels: [
    {
      ...channel('front-left', 'Front left', 'amp-four', 'stereo', 'A left', 'full-range', 4, [
        { ...driver('fl', 'Door 165 mm, left', 1, 4, 80), ...DOOR },
      ]),
      filters: [highpass('front-left-hp', 10)],
    },
    {
      ...channel('front-right', 'Front right', 'amp-four', 'stereo', 'A right', 'full-range', 4, [
        { ...driver('fr', 'Door 165 mm, right', 1, 4, 80), ...DOOR },
      ]),
      filters: [highpass('front-right-hp', 10)],
    },
    {
      ...channel('reading-left', 'Reading corner left', 'amp-four', 'stereo', 'B left', 'full-range', 4, [
        { ...driver('rl', 'Ceiling 130 mm, left', 1, 4, 45), ...CEILING },
      ]),
      filters: [highpass('reading-left-hp', 15)],
    },
    {
      ...channel('reading-right', 'Reading corner right', 'amp-four', 'stereo', 'B right', 'full-range', 4, [
        { ...driver('rr', 'Ceiling 130 mm, right', 1, 4, 45), ...CEILING },
      ]),
      filters: [highpass('reading-right-hp', 15)],
    },
    {
      ...channel('bass', 'Bass under the counter', 'amp-mono', 'mono', 'Sub', 'bass', 2, [
        { ...driver('sub', 'Subwoofer 250 mm, dual coil', 2, 4, 300), role: 'subwoofer', usableFromHz: 30, usableToHz: 200 },
      ]),
      wiring: { network: 'A1|A2' },
      filters: [
        {
          id: 'bass-lp',
          place: 'amplifier',
          kind: 'lowpass',
          family: 'butterworth',
          order: 4,
          cornerHz: 80,
          dial: { id: 'lp-dial', click: 2, multiplier: 1 },
        },
      ],
    },
  ],
};

/** A small car with a bridged bass channel. */
export const SCHOOL_CAR: Chain = {
  source: {
    name: 'Factory unit with preamp adapter',
    volumeSteps: 30,
    workingVolume: 22,
    volumeBasis: 'assumed',
    outputVolt: 1.9,
    ceilingVolt: 2.2,
    isFactory: true,
    inputs: ['phone', 'radio'],
    controls: ['bass', 'middle', 'treble', 'loudness', 'fader', 'balance'],
  },
  processor: {
    name: 'Factory-signal converter, 2 in, 3 out',
    inputs: [{ id: 'front', name: 'Front, both sides', output: 'preamp-front' }],
    outputs: [
      { id: 'out-left', name: 'Left' },
      { id: 'out-right', name: 'Right' },
      { id: 'out-bass', name: 'Bass' },
    ],
    outputVolt: 4,
    mostOutputVolt: 6,
    hasClipLight: true,
  },
  amplifiers: [
    {
      id: 'amp-two',
      name: 'Four-channel, 4 × 45 W',
      ratings: [
        { mode: 'stereo', loadOhm: 4, powerWatt: 45 },
        { mode: 'bridged', loadOhm: 4, powerWatt: 140 },
      ],
      minimumStereoOhm: 2,
      minimumBridgedOhm: 4,
      inputMinVolt: 0.25,
      inputMaxVolt: 5,
    },
  ],
  channels: [
    {
      ...channel('left', 'Front left', 'amp-two', 'stereo', 'A left', 'full-range', 4, [
        { ...driver('l', 'Door 130 mm, left', 1, 4, 50), ...CEILING },
      ]),
      processorOutputId: 'out-left',
      filters: [{ id: 'left-hp', place: 'processor', kind: 'highpass', family: 'linkwitz-riley', order: 4, cornerHz: 120 }],
    },
    {
      ...channel('right', 'Front right', 'amp-two', 'stereo', 'A right', 'full-range', 4, [
        { ...driver('r', 'Door 130 mm, right', 1, 4, 50), ...CEILING },
      ]),
      processorOutputId: 'out-right',
      filters: [{ id: 'right-hp', place: 'processor', kind: 'highpass', family: 'linkwitz-riley', order: 4, cornerHz: 120 }],
    },
    {
      ...channel('boot', 'Boot bass', 'amp-two', 'bridged', 'B left + and B right −', 'bass', 4, [
        { ...driver('b', 'Subwoofer 200 mm', 1, 4, 200), role: 'subwoofer', usableFromHz: 30, usableToHz: 200, tuningHz: 34 },
      ]),
      processorOutputId: 'out-bass',
      filters: [
        { id: 'boot-lp', place: 'processor', kind: 'lowpass', family: 'linkwitz-riley', order: 4, cornerHz: 120 },
        { id: 'boot-hp', place: 'processor', kind: 'highpass', family: 'butterworth', order: 4, cornerHz: 28 },
      ],
    },
  ],
};

/** Fresh from the bench: nothing measured yet, and one channel whose load is too low. */
export const CAMPER_TRAILER: Chain = {
  source: { name: 'Marine unit, 2 V preamp', volumeSteps: 35, workingVolume: 26, volumeBasis: 'assumed', outputVolt: 1.6 },
  amplifiers: [
    {
      id: 'amp-awning',
      name: 'Two-channel, 2 × 75 W',
      ratings: [
        { mode: 'stereo', loadOhm: 4, powerWatt: 75 },
        { mode: 'stereo', loadOhm: 2, powerWatt: 110 },
      ],
      minimumStereoOhm: 2,
      minimumBridgedOhm: 4,
      inputMinVolt: 0.2,
      inputMaxVolt: 5,
    },
  ],
  channels: [
    channel('awning-left', 'Awning left', 'amp-awning', 'stereo', 'Left', 'full-range', 4, [
      driver('al', 'Weatherproof 165 mm, left', 1, 4, 60),
    ]),
    {
      ...channel('awning-right', 'Awning right with galley pair', 'amp-awning', 'stereo', 'Right', 'full-range', 1.33, [
        driver('ar', 'Weatherproof 165 mm, right', 1, 4, 60),
        driver('g1', 'Galley 100 mm, left', 1, 4, 30),
        driver('g2', 'Galley 100 mm, right', 1, 4, 30),
      ]),
      wiring: { network: 'A1|B1|C1' },
      // Three drivers against one: the two sides are not meant to match.
      differsFromPair: true,
    },
  ],
};

/** A front stage of three ways with a subwoofer, its crossovers still to be planned. */
export const PUPPET_VAN: Chain = {
  source: {
    name: 'Dash unit, 5 V preamp',
    volumeSteps: 50,
    workingVolume: 41,
    volumeBasis: 'measured',
    outputVolt: 4.2,
    ceilingVolt: 4.6,
    outputs: ['preamp-front', 'preamp-sub'],
  },
  processor: {
    name: 'Line processor, 2 in, 6 out',
    inputs: [{ id: 'front', name: 'Front, both sides', output: 'preamp-front' }],
    outputs: SIDES_AND_WAYS.map(([id, name]) => ({ id: `out-${id}`, name })),
    outputVolt: 4,
    hasClipLight: true,
  },
  amplifiers: [
    {
      id: 'amp-six',
      name: 'Six-channel, 6 × 75 W',
      ratings: [
        { mode: 'stereo', loadOhm: 4, powerWatt: 75 },
        { mode: 'stereo', loadOhm: 2, powerWatt: 120 },
      ],
      minimumStereoOhm: 2,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
    },
    {
      id: 'amp-stage',
      name: 'Mono, 400 W at 2 Ω',
      ratings: [
        { mode: 'mono', loadOhm: 4, powerWatt: 250 },
        { mode: 'mono', loadOhm: 2, powerWatt: 400 },
      ],
      minimumMonoOhm: 2,
      inputMinVolt: 0.2,
      inputMaxVolt: 6,
    },
  ],
  channels: [
    ...SIDES_AND_WAYS.map(([id, name, size, coilOhm, ratedPowerWatt, range]) => ({
      ...channel(id, name, 'amp-six', 'stereo', name, 'full-range', coilOhm, [
        { ...driver(`d-${id}`, size, 1, coilOhm, ratedPowerWatt), ...range },
      ]),
      processorOutputId: `out-${id}`,
    })),
    channel('stage-bass', 'Bass under the stage', 'amp-stage', 'mono', 'Sub', 'bass', 4, [
      {
        ...driver('d-stage-bass', 'Subwoofer 300 mm, ported', 1, 4, 350),
        role: 'subwoofer',
        usableFromHz: 25,
        usableToHz: 160,
        tuningHz: 32,
      },
    ]),
  ],
};

function channel(
  id: string,
  name: string,
  amplifierId: string,
  mode: Chain['channels'][number]['mode'],
  terminals: string,
  band: 'bass' | 'full-range',
  loadOhm: number,
  drivers: Chain['channels'][number]['drivers'],
): Chain['channels'][number] {
  return { id, name, amplifierId, mode, terminals, band, loadOhm, drivers };
}

function driver(
  id: string,
  name: string,
  coils: 1 | 2 | 4,
  coilOhm: number,
  ratedPowerWatt: number,
): Chain['channels'][number]['drivers'][number] {
  return { id, name, coils, coilOhm, ratedPowerWatt };
}
