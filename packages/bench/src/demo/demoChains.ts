import type { Chain, Meter } from '@yield/core';

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
    },
  ],
  channels: [
    channel('front-left', 'Front left', 'amp-four', 'stereo', 'A left', 'full-range', 4, [driver('fl', 'Door 165 mm, left', 1, 4, 80)]),
    channel('front-right', 'Front right', 'amp-four', 'stereo', 'A right', 'full-range', 4, [driver('fr', 'Door 165 mm, right', 1, 4, 80)]),
    channel('reading-left', 'Reading corner left', 'amp-four', 'stereo', 'B left', 'full-range', 4, [
      driver('rl', 'Ceiling 130 mm, left', 1, 4, 45),
    ]),
    channel('reading-right', 'Reading corner right', 'amp-four', 'stereo', 'B right', 'full-range', 4, [
      driver('rr', 'Ceiling 130 mm, right', 1, 4, 45),
    ]),
    {
      ...channel('bass', 'Bass under the counter', 'amp-mono', 'mono', 'Sub', 'bass', 2, [
        driver('sub', 'Subwoofer 250 mm, dual coil', 2, 4, 300),
      ]),
      wiring: { network: 'A1|A2' },
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
      ...channel('left', 'Front left', 'amp-two', 'stereo', 'A left', 'full-range', 4, [driver('l', 'Door 130 mm, left', 1, 4, 50)]),
      processorOutputId: 'out-left',
    },
    {
      ...channel('right', 'Front right', 'amp-two', 'stereo', 'A right', 'full-range', 4, [driver('r', 'Door 130 mm, right', 1, 4, 50)]),
      processorOutputId: 'out-right',
    },
    {
      ...channel('boot', 'Boot bass', 'amp-two', 'bridged', 'B left + and B right −', 'bass', 4, [
        driver('b', 'Subwoofer 200 mm', 1, 4, 200),
      ]),
      processorOutputId: 'out-bass',
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
    },
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
