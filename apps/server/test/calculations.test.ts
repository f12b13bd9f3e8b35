// Worked by hand from the formulas of docs/sources.md; tolerance 1e-9 of the figure, the rounding of the hand.
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startTestServer, type TestServer } from './testServer.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.close());

interface Worked {
  name: string;
  endpoint: string;
  request: object;
  answer: Record<string, number | string>;
}

const WORKED: Worked[] = [
  {
    name: 'a capacitor of 100 µF: 10 ohm at 1000 radians a second',
    endpoint: 'capacitor',
    request: { driverOhm: 10, cornerHz: 1000 / (2 * Math.PI) },
    answer: { capacitanceFarad: 1e-4 },
  },
  {
    name: 'a filter that is off',
    endpoint: 'crossover-fit',
    request: { kind: 'highpass', points: [40, 60, 80, 120, 200].map((frequencyHz) => ({ frequencyHz, voltageRms: 4 })) },
    answer: { verdict: 'not-a-filter', passbandVoltage: 4, residualDb: 0 },
  },
  {
    name: 'a source that turns dirty at step 22',
    endpoint: 'source-ceiling',
    request: {
      steps: [
        { step: 20, voltageRms: 1, thdPercent: 0.1 },
        { step: 21, voltageRms: 1.2, thdPercent: 0.1 },
        { step: 22, voltageRms: 1.4, thdPercent: 2 },
      ],
    },
    answer: { maxCleanStep: 21, firstDirtyStep: 22, method: 'distortion', voltageAtCeiling: 1.2 },
  },
  {
    name: 'a subwoofer amplifier of 500 W at 1 ohm, tone at full scale',
    endpoint: 'target-voltage',
    request: { powerWatt: 500, loadOhm: 1 },
    answer: { fullScaleVoltage: 22.360679774997898, settingVoltage: 22.360679774997898, powerAtSettingWatt: 500 },
  },
  {
    name: 'the same with a tone at −20 dBFS: a tenth of the voltage, a hundredth of the power',
    endpoint: 'target-voltage',
    request: { powerWatt: 500, loadOhm: 1, toneLevelDbfs: -20 },
    answer: { fullScaleVoltage: 22.360679774997898, settingVoltage: 2.23606797749979, powerAtSettingWatt: 5 },
  },
  {
    name: 'headroom of 20 dB',
    endpoint: 'target-voltage',
    request: { powerWatt: 400, loadOhm: 4, headroomDb: 20 },
    answer: { fullScaleVoltage: 4, settingVoltage: 4, powerAtSettingWatt: 4 },
  },
  {
    name: 'a driver of 4 ohm on 20 V',
    endpoint: 'delivered-power',
    request: { voltageRms: 20, loadOhm: 4, nominalOhm: 4 },
    answer: { powerWatt: 100, apparentVoltAmpere: 100, impedanceOhm: 4, impedanceRiseRatio: 1 },
  },
  {
    name: 'a clamp reading at resonance: 20 V and half an ampere',
    endpoint: 'delivered-power',
    request: { voltageRms: 20, currentRms: 0.5, nominalOhm: 4 },
    answer: { powerWatt: 10, apparentVoltAmpere: 10, impedanceOhm: 40, impedanceRiseRatio: 10 },
  },
  {
    name: 'an impedance at 60 degrees takes half of its volt-amperes',
    endpoint: 'delivered-power',
    request: { voltageRms: 20, impedanceOhm: 8, phaseDeg: 60 },
    answer: { powerWatt: 25, apparentVoltAmpere: 50, impedanceOhm: 8 },
  },
  {
    name: 'no voltage, no power',
    endpoint: 'delivered-power',
    request: { voltageRms: 0, loadOhm: 4 },
    answer: { powerWatt: 0, apparentVoltAmpere: 0 },
  },
  {
    name: 'an amplifier that halves under load has the load’s own resistance',
    endpoint: 'sag',
    request: { unloadedVoltage: 20, loadedVoltage: 10, loadOhm: 2 },
    answer: { sourceOhm: 2, dropDb: 6.020599913279624 },
  },
  {
    name: 'an amplifier that does not move',
    endpoint: 'sag',
    request: { unloadedVoltage: 20, loadedVoltage: 20, loadOhm: 4 },
    answer: { sourceOhm: 0, dropDb: 0 },
  },
  {
    name: 'a bridged pair on 8 ohm',
    endpoint: 'hookup',
    request: { mode: 'bridged', loadOhm: 8, minimumStereoOhm: 4, minimumBridgedOhm: 8 },
    answer: { perChannelOhm: 4, verdict: 'fits' },
  },
  {
    name: 'the same pair on 4 ohm',
    endpoint: 'hookup',
    request: { mode: 'bridged', loadOhm: 4, minimumStereoOhm: 4, minimumBridgedOhm: 8 },
    answer: { perChannelOhm: 2, verdict: 'below-minimum' },
  },
  {
    name: 'a one-channel amplifier at its lowest load',
    endpoint: 'hookup',
    request: { mode: 'mono', loadOhm: 1, minimumMonoOhm: 1 },
    answer: { perChannelOhm: 1, verdict: 'fits' },
  },
];

describe('worked examples over HTTP', () => {
  it.each(WORKED)('$endpoint: $name', async ({ endpoint, request, answer }) => {
    const got = (await server.api.post(`/api/v1/calc/${endpoint}`).send(request).expect(200)).body as Record<string, unknown>;
    for (const [key, wanted] of Object.entries(answer)) {
      if (typeof wanted === 'string') expect(got[key]).toBe(wanted);
      else expect(Math.abs((got[key] as number) - wanted)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(wanted)));
    }
  });
});

interface Sound {
  endpoint: string;
  body: Record<string, unknown>;
  numbers: string[];
  required: string[];
}

/** A sound request for each endpoint, which the refusals below spoil one field at a time. */
const SOUND: Sound[] = [
  {
    endpoint: 'hookup',
    body: { mode: 'stereo', loadOhm: 4, minimumStereoOhm: 2 },
    numbers: ['loadOhm', 'minimumStereoOhm'],
    required: ['mode', 'loadOhm'],
  },
  {
    endpoint: 'target-voltage',
    body: { powerWatt: 100, loadOhm: 4, toneLevelDbfs: -3, overlapDb: 1, headroomDb: 0 },
    numbers: ['powerWatt', 'loadOhm', 'toneLevelDbfs', 'overlapDb', 'headroomDb'],
    required: ['powerWatt', 'loadOhm'],
  },
  {
    endpoint: 'delivered-power',
    body: { voltageRms: 20, currentRms: 2, phaseDeg: 10, nominalOhm: 4 },
    numbers: ['voltageRms', 'currentRms', 'phaseDeg', 'nominalOhm'],
    required: ['voltageRms'],
  },
  {
    endpoint: 'sag',
    body: { unloadedVoltage: 20, loadedVoltage: 19, loadOhm: 4 },
    numbers: ['unloadedVoltage', 'loadedVoltage', 'loadOhm'],
    required: ['unloadedVoltage', 'loadedVoltage', 'loadOhm'],
  },
];

describe.each(SOUND)('$endpoint refuses', ({ endpoint, body, numbers, required }) => {
  const refused = async (text: string): Promise<string[]> => {
    const answer = await server.api.post(`/api/v1/calc/${endpoint}`).set('content-type', 'application/json').send(text).expect(422);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    return (answer.body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer);
  };

  it('nothing of what is sound', async () => {
    await server.api.post(`/api/v1/calc/${endpoint}`).send(body).expect(200);
  });

  it('text, null, lists and figures beyond all bounds, each at its field', async () => {
    for (const field of numbers) {
      for (const bad of ['"loud"', '"4"', 'null', '[4]', '{}', 'true', '1e999', '-1e999', '1e12']) {
        const text = JSON.stringify({ ...body, [field]: '#' }).replace('"#"', bad);
        expect(await refused(text)).toContain(`/${field}`);
      }
    }
  });

  it('a body without a field that it needs', async () => {
    for (const field of required) {
      const rest = Object.fromEntries(Object.entries(body).filter(([key]) => key !== field));
      expect(await refused(JSON.stringify(rest))).toContain(`/${field}`);
    }
  });

  it('a field that it does not know, so that a misspelt unit never passes', async () => {
    expect(await refused(JSON.stringify({ ...body, loadOhms: 4 }))).toEqual(['/loadOhms']);
  });
});

describe('what a schema sees and what only the calculation sees', () => {
  const curve = { frequenciesHz: [20, 200], levelDb: [0, 0] };
  it.each<[string, object, string[]]>([
    [
      'equaliser-response',
      {
        filters: [
          { kind: 'peak', frequencyHz: 100, gainDb: 3, q: 0 },
          { kind: 'peak', frequencyHz: 30_000, gainDb: 3, q: 1 },
        ],
        frequenciesHz: [100, 25_000],
      },
      ['/filters/0/q', '/filters/1/frequencyHz', '/frequenciesHz/1'],
    ],
    [
      'equaliser-fit',
      { response: curve, fromHz: 10, toHz: 900, maxCutDb: -1, equaliser: { kind: 'parametric', bands: 2 } },
      ['/fromHz', '/maxCutDb', '/toHz'],
    ],
  ])('of %s is named at once', async (endpoint, body, pointers) => {
    const answer = await server.api.post(`/api/v1/calc/${endpoint}`).send(body).expect(422);
    const told = (answer.body as { errors: { pointer: string }[] }).errors.map(({ pointer }) => pointer);
    expect([...new Set(told)].sort()).toEqual(pointers);
  });
});
