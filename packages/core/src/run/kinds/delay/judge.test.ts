import { say } from '@yield/words';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Listening } from '../../../job/chain.ts';
import type { LoadTrace, StepMark, TuneSettings } from '../../../job/records.ts';
import { codesOf, runStepIn, allTicked, situation, stepsIn } from '../../testKit.fixture.ts';
import type { DelayFigures } from './kind.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const channel = (id: string, band: 'bass' | 'full-range'): Chain['channels'][0] => ({
  id,
  name: `Door ${id}`,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: id,
  band,
  loadOhm: 4,
  drivers: [{ id: `d-${id}`, name: 'Woofer', coils: 1, coilOhm: 4, ratedPowerWatt: 75 }],
});
const chainOf = (listening?: Listening): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  processor: { name: 'DSP', inputs: [], outputs: [], outputVolt: 4, hasClipLight: false },
  amplifiers: [{ id: 'amp', name: 'Amp', minimumStereoOhm: 2, ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 75 }] }],
  channels: [channel('left', 'full-range'), channel('right', 'full-range'), channel('sub', 'bass')],
  ...(listening === undefined ? {} : { listening }),
});
/** The filters looked at; of the delays nothing ticked. */
const filtersSeen = (chain: Chain): StepMark[] => allTicked(chain, SETTINGS).filter(({ stepId }) => stepId.startsWith('filters:'));
const stepIn = (listening?: Listening, marks: StepMark[] = filtersSeen(chainOf(listening)), traces: LoadTrace[] = []) =>
  runStepIn('delay:all', situation(chainOf(listening), SETTINGS, { marks, traces })).state;
const MEASURED = { distancesMetre: { left: 0.9, right: 1.3, sub: 2.1 }, temperatureCelsius: 20 };

describe('delays by tape measure', () => {
  it('are no step where nothing can delay', () => {
    const { processor: _none, ...without } = chainOf();
    expect(stepsIn(without, DEFAULT_RULES).map(({ kind }) => kind)).not.toContain('delay');
  });
  it('ask for the distances that are missing, by name', () => {
    expect(codesOf(stepIn())).toEqual(['distance-missing']);
    expect(say(stepIn({ distancesMetre: { left: 1, right: 1 } }).findings[0]!).text).toContain('Door sub');
  });
  it('let the farthest come at once and the others as much later: 1.2 m at 343.2 m/s are 3.50 ms', () => {
    const { rows, speedOfSound } = stepIn(MEASURED).figures as DelayFigures;
    expect(speedOfSound).toBeCloseTo(343.2, 1);
    const set = Object.fromEntries(rows.map(({ channelId, setSecond }) => [channelId, setSecond!]));
    expect(set.sub).toBe(0);
    expect(set.left! * 1000).toBeCloseTo(1200 / 343.2, 1);
    // On a step of a sample at 48 kHz, with less than half of one left over.
    for (const { setSecond, leftSecond } of rows) {
      expect(setSecond! * 48_000).toBeCloseTo(Math.round(setSecond! * 48_000), 6);
      expect(Math.abs(leftSecond!)).toBeLessThanOrEqual(0.5 / 48_000 + 1e-12);
    }
    expect(codesOf(stepIn(MEASURED))).toEqual(['bass-by-phase']);
  });
  it('say what a longest delay leaves over', () => {
    const state = stepIn({ ...MEASURED, longestSecond: 0.002 }, allTicked(chainOf({ ...MEASURED, longestSecond: 0.002 }), SETTINGS));
    expect(state.status).toBe('out-of-tolerance');
    expect(codesOf(state)).toContain('delay-too-long');
  });
  it('are done once they are entered, and stale when a distance changes', () => {
    const marks = allTicked(chainOf(MEASURED), SETTINGS);
    expect(stepIn(MEASURED, marks).status).toBe('done');
    const moved = { ...MEASURED, distancesMetre: { ...MEASURED.distancesMetre, left: 1 } };
    expect(stepIn(moved, marks)).toMatchObject({ status: 'stale' });
    // A centimetre less than a tenth of a step's way changes nothing that is entered.
    expect(stepIn({ ...MEASURED, distancesMetre: { ...MEASURED.distancesMetre, left: 0.9001 } }, marks).status).toBe('done');
  });
});

describe('delays for two heads', () => {
  const both: Listening = { ...MEASURED, seat: 'both', passengerMetre: { left: 1.3, right: 0.9, sub: 2.1 } };
  it('lie in the middle of what each wants, and say by how much each pays', () => {
    const { rows } = stepIn(both).figures as DelayFigures;
    const [left, right] = rows;
    // 1.2 and 0.8 m before the subwoofer: 1.0 m on average, for either door.
    expect(left!.byTapeSecond! * 343.2).toBeCloseTo(1, 2);
    expect(right!.byTapeSecond).toBeCloseTo(left!.byTapeSecond!, 9);
    expect(left!.offAtSeatsSecond! * 343.2).toBeCloseTo(0.2, 2);
    expect(codesOf(stepIn(both))).toContain('seats-compromise');
  });
  it('ask for the passenger’s ways too', () => {
    expect(codesOf(stepIn({ ...both, passengerMetre: {} }))).toContain('distance-missing');
  });
});

describe('delays by recorded sweeps', () => {
  let clock = 0;
  const response = (arrivalSecond: number) => ({ response: { kind: 'response', arrivalSecond } });
  /** A channel's sweep, heard so long after the source's line had it. */
  const heard = (channelId: string, laterSecond: number, channels = [response(0.4 + laterSecond), response(0.4)]): LoadTrace =>
    ({
      id: `t${clock}`,
      stepId: 'delay:all',
      fileName: `${channelId}.wav`,
      channelIndex: 0,
      analysis: { channels },
      conditions: { at: 'air', channelId, position: 'driver’s head' },
      takenAt: new Date((clock += 1) * 60_000).toISOString(),
    }) as unknown as LoadTrace;
  const ALL = [heard('left', 0.9 / 343.2), heard('right', 1.3 / 343.2), heard('sub', 2.1 / 343.2 + 0.004)];
  it('stand in the place of a tape where no tape was used', () => {
    const { figures } = stepIn({}, undefined, ALL);
    const { rows, from } = figures as DelayFigures;
    expect(from).toBe('sweep');
    expect(rows.find(({ channelId }) => channelId === 'sub')!.setSecond).toBe(0);
    expect(rows.find(({ channelId }) => channelId === 'left')!.bySweepSecond).toBeCloseTo(1.2 / 343.2 + 0.004, 9);
  });
  it('that were heard at another seat count for nothing here, nor for two heads', () => {
    expect(codesOf(stepIn({ delaysFrom: 'sweep', seat: 'middle' }, undefined, ALL))).toContain('distance-missing');
    expect((stepIn({ delaysFrom: 'sweep', seat: 'both' }, undefined, ALL).figures as DelayFigures).from).toBe('tape');
  });
  it('through other filters than now count for nothing: those delay by themselves', () => {
    const filtered = (channelFilters: string): LoadTrace[] =>
      ALL.map((trace) => ({ ...trace, conditions: { ...trace.conditions, channelFilters } }) as unknown as LoadTrace);
    expect(codesOf(stepIn({ delaysFrom: 'sweep' }, undefined, filtered('')))).not.toContain('distance-missing');
    expect(codesOf(stepIn({ delaysFrom: 'sweep' }, undefined, filtered('lowpass bessel 2 80')))).toContain('distance-missing');
  });
  it('agree with the tape, or it is said which channel does not; a subwoofer’s filter delays it, and is left out', () => {
    expect(codesOf(stepIn(MEASURED, undefined, ALL))).toEqual(['bass-by-phase']);
    const wrong = [...ALL, heard('right', 2.5 / 343.2)];
    expect(codesOf(stepIn(MEASURED, undefined, wrong))).toContain('tape-and-sweep-apart');
  });
  it.each([
    ['one channel alone', [response(0.4)], 'has only one channel'],
    ['no sweep on the second', [response(0.4), { response: { kind: 'no-sweep', reason: 'No such sweep is found.' } }], 'No such sweep'],
  ])('are refused with %s', (_, channels, words) => {
    const state = stepIn({ delaysFrom: 'sweep' }, undefined, [heard('left', 0, channels as never)]);
    expect(codesOf(state)).toContain('arrival-unknown');
    expect(state.findings.map((finding) => say(finding).text).join(' ')).toContain(words);
  });
});
