import { findingOf } from '../../../findings.ts';
import { say } from '@yield/words';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES, type Chain, type Channel } from '../../../job/chain.ts';
import type { EqualiserFilter } from '../../../response/equaliserResponse.ts';
import type { AirConditions } from '../../../job/conditions.ts';
import type { StepMark, TraceRecord, TuneSettings } from '../../../job/records.ts';
import { channelsNow } from '../../frame/channels.ts';
import { codesOf, runStepIn, allTicked, situation } from '../../testKit.fixture.ts';
import { pointsLevelDb } from '../../../response/curve.ts';
import { rangeOf, targetShapeDb, wantedOf } from './curves.ts';
import { responseBasis, responseConditions, type ResponseFigures } from './judge.ts';

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };
const chainWith = (channel: Partial<Channel> = {}): Chain => ({
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'amp', name: 'Amp', ratings: [{ mode: 'mono', loadOhm: 4, powerWatt: 100 }] }],
  channels: [
    {
      id: 'sub',
      name: 'Bass',
      amplifierId: 'amp',
      mode: 'mono',
      terminals: 'out',
      band: 'bass',
      loadOhm: 4,
      drivers: [{ id: 'd', name: 'Sub', coils: 1, coilOhm: 4, ratedPowerWatt: 300 }],
      wiring: { network: 'A1' },
      ...channel,
    },
  ],
});
const LOW_PASS: Partial<Channel> = {
  filters: [{ id: 'f', place: 'processor', kind: 'lowpass', family: 'linkwitz-riley', order: 4, cornerHz: 80 }],
};
const HERTZ = Array.from({ length: 60 }, (_, k) => 20 * 2 ** (k / 12));
const bump = (hertz: number, at: number, db: number): number => db * Math.exp(-((Math.log2(hertz / at) / 0.25) ** 2));

let clock = 0;
/** A sweep at one place, level but for a bump. */
function heard(chain: Chain, place: string, levelAt: (hertz: number) => number): TraceRecord<AirConditions> {
  const step = channelsNow(situation(chain, SETTINGS))[0]!;
  const points = HERTZ.map((hertz) => ({ hertz, db: levelAt(hertz) }));
  return {
    id: `t${(clock += 1)}`,
    stepId: 'response:sub',
    fileName: `${place}.wav`,
    channelIndex: 0,
    analysis: { channels: [{ name: 'left', clipping: { verdict: 'sweep' }, response: { kind: 'response', points } }] },
    conditions: responseConditions(step, situation(chain, SETTINGS), [place]),
    takenAt: new Date(clock * 60_000).toISOString(),
  } as unknown as TraceRecord<AirConditions>;
}
const PLACES = ['left', 'middle', 'right'];
const at = (chain: Chain, levelAt: (hertz: number, place: string) => number) =>
  PLACES.map((place) => heard(chain, place, (hertz) => levelAt(hertz, place)));
const CUT: EqualiserFilter = { kind: 'peak', frequencyHz: 43, gainDb: -6, q: 3 };

function stateOf(chain: Chain, traces: TraceRecord<AirConditions>[], checks: string[] = []) {
  const step = channelsNow(situation(chain, SETTINGS))[0]!;
  const { key: basis } = responseBasis(step);
  const marks: StepMark[] = allTicked(chain, SETTINGS).filter(({ stepId }) => !stepId.startsWith('response'));
  const own: StepMark = { stepId: 'response:sub', checks: ['volume', 'cabin', ...checks], basis };
  return runStepIn('response:sub', situation(chain, SETTINGS, { traces, marks: [...marks, own] })).state;
}

describe('the response of a channel', () => {
  it('wants a sweep, and three places', () => {
    expect(stateOf(chainWith(), [])).toMatchObject({ status: 'open', action: { kind: 'capture', judged: 'sweep' } });
    expect(codesOf(stateOf(chainWith(), [heard(chainWith(), 'left', () => 80)]))).toContain('few-places');
    expect(
      codesOf(
        stateOf(
          chainWith(),
          at(chainWith(), () => 80),
        ),
      ),
    ).toEqual(['even']);
  });

  it('names the band that is even', () => {
    const chain = chainWith();
    const state = stateOf(
      chain,
      at(chain, (hertz) => 80 + bump(hertz, 43, 9)),
    );
    expect(say(state.findings[1]!).text).toMatch(/Within 3\sdB from [\d.]+\sHz to 180\sHz\./u);
  });

  it('is not even where it is noise that was measured, however even that is', () => {
    const chain = chainWith();
    const noisy = (underDb: number) =>
      at(chain, () => 80).map((trace): TraceRecord<AirConditions> => {
        const thirds = Array.from({ length: 15 }, (_, k) => 20 * 2 ** (k / 3));
        const noise = thirds.map((hertz) => ({ hertz, db: 80 - (hertz < 40 ? underDb : 40) }));
        const distortion = thirds.map((hertz) => ({ hertz, percent: hertz < 40 ? 14 : 1 }));
        const [channel] = trace.analysis.channels;
        const response = { ...channel!.response, noise, distortion, driftPpm: 40 };
        return { ...trace, analysis: { ...trace.analysis, channels: [{ ...channel!, response } as typeof channel & object] } };
      });
    expect(stateOf(chain, noisy(5), ['kept'])).toMatchObject({ status: 'out-of-tolerance', action: { kind: 'capture' } });
    expect(codesOf(stateOf(chain, noisy(5), ['kept']))).toEqual(['in-noise', 'strained']);
    expect(codesOf(stateOf(chain, noisy(7), ['kept']))).toEqual(['even', 'strained']);
    const { quality } = stateOf(chain, noisy(7), ['kept']).figures as ResponseFigures;
    expect(quality[0]).toMatchObject({ place: 'left', drowned: [], driftPpm: 40, mostDistortion: { percent: 14 } });
    expect(quality[0]!.nearestNoise!.underDb).toBeCloseTo(7, 6);
  });

  it('is done once it is kept', () => {
    const chain = chainWith();
    expect(
      stateOf(
        chain,
        at(chain, () => 80),
      ).status,
    ).toBe('open');
    expect(
      stateOf(
        chain,
        at(chain, () => 80),
        ['kept'],
      ).status,
    ).toBe('done');
  });

  it('does not mind a place, or another program’s table, that stands at another level as a whole', () => {
    const chain = chainWith();
    const { figures, findings } = stateOf(
      chain,
      at(chain, (_hertz, place) => (place === 'left' ? -20 : 80)),
    );
    expect((figures as ResponseFigures).offDb).toBeLessThan(1e-9);
    expect(findings.map(({ code }) => code)).toEqual(['even']);
    expect(Math.max(...(figures as ResponseFigures).present.average!.spreadDb)).toBeLessThan(1e-9);
  });

  it('that was measured over a part of what is wanted is never called even', () => {
    const chain = chainWith();
    const part = at(chain, () => 80).map((trace) => {
      const [channel] = trace.analysis.channels;
      const points = HERTZ.filter((hertz) => hertz < 90).map((hertz) => ({ hertz, db: 80 }));
      return { ...trace, analysis: { channels: [{ ...channel, response: { kind: 'response', points } }] } } as unknown as typeof trace;
    });
    const state = stateOf(chain, part, ['kept']);
    expect([state.status, ...codesOf(state)]).toEqual(['out-of-tolerance', 'range-not-covered']);
  });

  it('names a hump of the cabin, and a dip that is one place’s', () => {
    const chain = chainWith();
    const state = stateOf(
      chain,
      at(chain, (hertz, place) => 80 + bump(hertz, 43, 8) - (place === 'left' ? bump(hertz, 70, 20) : 0)),
    );
    const hump = findingOf(state.findings, 'hump')!;
    expect(say(hump).text).toContain('at all positions: the cabin');
    expect(Math.abs(Math.log2(hump.figures.hertz / 43))).toBeLessThan(1 / 12);
    const dip = findingOf(state.findings, 'dip');
    if (dip !== undefined) expect(say(dip).text).toContain('leave it');
  });

  it('with bands is measured again, told against before, and called worse where it is', () => {
    const [plain, cut] = [chainWith(), chainWith({ equaliser: [CUT] })];
    const before = at(plain, (hertz) => 80 + bump(hertz, 43, 8));
    expect(stateOf(cut, before).status).toBe('stale');
    const better = stateOf(cut, [...before, ...at(cut, (hertz) => 80 + bump(hertz, 43, 1))]);
    const { offDb, beforeDb } = better.figures as ResponseFigures;
    expect(offDb!).toBeLessThan(beforeDb!);
    // Entered and kept, both: bands that stand here alone change nothing in the gear.
    expect(stateOf(cut, [...before, ...at(cut, () => 80)], ['kept']).status).toBe('open');
    expect(stateOf(cut, [...before, ...at(cut, () => 80)], ['entered', 'kept']).status).toBe('done');
    const worse = stateOf(cut, [...before, ...at(cut, (hertz) => 80 + bump(hertz, 43, 14))], ['entered', 'kept']);
    expect(worse.status).toBe('out-of-tolerance');
    expect(codesOf(worse)).toContain('worse-than-before');
    // Taken back, what was measured before counts again.
    expect(stateOf(plain, [...before, ...at(cut, () => 80)]).status).toBe('open');
  });
});

describe('a channel behind a low-pass', () => {
  it('is wanted to fall with it: what the crossover takes is no dip', () => {
    const chain = chainWith(LOW_PASS);
    // Linkwitz-Riley of fourth order: 1 / (1 + (f/fc)⁴).
    const state = stateOf(
      chain,
      at(chain, (hertz) => 80 - 20 * Math.log10(1 + (hertz / 80) ** 4)),
    );
    expect(codesOf(state)).toEqual(['even']);
    expect((state.figures as ResponseFigures).offDb).toBeLessThan(0.1);
  });
});

describe('an equaliser', () => {
  const target = (chain: Chain): number => channelsNow(situation(chain, SETTINGS))[0]!.target!.settingVoltage;

  it('that lifts lowers the target of its gain by as much, and what it does to the tone is counted', () => {
    const level = target(chainWith());
    // A lift of 3 dB far above the tone: the tone itself hardly sees it, everything lies 3 dB lower.
    const lifted = target(chainWith({ equaliser: [{ kind: 'peak', frequencyHz: 160, gainDb: 3, q: 8 }] }));
    expect(20 * Math.log10(lifted / level)).toBeCloseTo(-3, 1);
    // A cut of 6 dB right at the tone of 40 Hz: the meter reads 6 dB less, nothing else changes.
    const cut = target(chainWith({ equaliser: [{ kind: 'peak', frequencyHz: 40, gainDb: -6, q: 2 }] }));
    expect(20 * Math.log10(cut / level)).toBeCloseTo(-6, 6);
  });
});

describe('what is wanted', () => {
  it('is evened out where the filters let through, or as the tuner says', () => {
    const { fromHz, toHz } = rangeOf(chainWith(LOW_PASS).channels[0]!);
    expect(fromHz).toBe(20);
    expect(toHz).toBeGreaterThan(65);
    expect(toHz).toBeLessThan(90);
    expect(rangeOf(chainWith({ responseTarget: { fromHz: 30, toHz: 60 } }).channels[0]!)).toEqual({ fromHz: 30, toHz: 60 });
  });
  it.each([
    [{ tiltDb: -1 }, 2000, 1000, -1],
    [{ tiltDb: -1 }, 250, 1000, 2],
    [{ shelfDb: 6, shelfHz: 80 }, 80, 400, 3],
    [{ shelfDb: 6, shelfHz: 80 }, 8000, 400, 0],
    [{}, 50, 400, 0],
  ])('%o at %d Hz', (wanted, hertz, middle, db) => {
    expect(targetShapeDb(wanted, hertz, middle)).toBeCloseTo(db, 2);
  });
});

describe('the microphone and the house’s curve', () => {
  const level = at(chainWith(), () => -30);
  const judged = (settings: TuneSettings) =>
    runStepIn('response:sub', situation(chainWith(), settings, { traces: level, marks: allTicked(chainWith(), settings) })).state;
  const figuresOf = (settings: TuneSettings) => judged(settings).figures as ResponseFigures;

  it('what the microphone shows too much is taken off, and a table that is short is told', () => {
    const calibration = [
      { hertz: 20, db: 6 },
      { hertz: 60, db: 0 },
    ];
    const { present } = figuresOf({ ...SETTINGS, microphone: { calibration } });
    expect(present.average!.levelDb[0]! - present.average!.levelDb.at(-1)!).toBeCloseTo(-6, 0);
    expect(codesOf(judged({ ...SETTINGS, microphone: { calibration } }))).toContain('calibration-short');
    expect(codesOf(judged({ ...SETTINGS, microphone: { calibration: [...calibration, { hertz: 20_000, db: 0 }] } }))).not.toContain(
      'calibration-short',
    );
  });

  it('the house’s curve is wanted where the channel says nothing', () => {
    const houseCurve = [
      { hertz: 20, db: 10 },
      { hertz: 200, db: 0 },
    ];
    const { target } = figuresOf({ ...SETTINGS, houseCurve });
    expect(target!.levelDb[0]! - target!.levelDb.at(-1)!).toBeGreaterThan(8);
    expect(wantedOf({ responseTarget: { tiltDb: -1 } }, { houseCurve })).toEqual({ tiltDb: -1 });
    expect(wantedOf({ responseTarget: { fromHz: 30 } }, { houseCurve })).toEqual({ fromHz: 30, points: houseCurve });
  });

  it('points run straight over log frequency, and level beyond their ends', () =>
    fc.assert(
      fc.property(fc.double({ min: 5, max: 40_000, noNaN: true }), (hertz) => {
        const db = pointsLevelDb(
          [
            { hertz: 1000, db: 10 },
            { hertz: 100, db: 0 },
          ],
          hertz,
        );
        expect(db).toBeCloseTo(10 * Math.max(0, Math.min(1, Math.log10(hertz / 100))), 9);
      }),
    ));
});
