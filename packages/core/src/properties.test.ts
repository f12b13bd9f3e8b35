// What has to hold for any figures, each property with a fixed seed.
import { say } from '@yield/words';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CoreError } from './coreError.ts';
import { readCapture } from './formats/readCapture.ts';
import { deliveredPower } from './gain/deliveredPower.ts';
import { sag } from './gain/sag.ts';
import { hookup, LOAD_SLACK } from './loads/hookup.ts';
import { DEFAULT_RULES, type Chain } from './job/chain.ts';
import { chainFaults } from './job/chainFaults.ts';
import { levelPath } from './run/levelPath.ts';
import type { Reading, TuneSettings } from './job/records.ts';
import { runSummary } from './run/runSummary.ts';
import { staleReasons } from './run/frame/staleness.ts';
import { channelsNow } from './run/frame/channels.ts';
import { LOAD_STANDS_ON } from './run/kinds/gain/judge.ts';
import { runOf } from './run/run.ts';
import { loadConditionsIn, allTicked, situation, stateIn } from './run/testKit.fixture.ts';
import { analyseTrace } from './traces/analyseTrace.ts';

const SEED = { seed: 4620 };
const volt = fc.double({ min: 0.01, max: 200, noNaN: true });
const ohm = fc.double({ min: 0.1, max: 64, noNaN: true });
const phase = fc.double({ min: -180, max: 180, noNaN: true });

describe('delivered power', () => {
  it('is never more than the apparent power, and the same by each form', () => {
    fc.assert(
      fc.property(volt, ohm, phase, (voltageRms, impedanceOhm, phaseDeg) => {
        const byImpedance = deliveredPower({ voltageRms, impedanceOhm, phaseDeg });
        const byClamp = deliveredPower({ voltageRms, currentRms: voltageRms / impedanceOhm, phaseDeg });
        expect(Math.abs(byImpedance.powerWatt)).toBeLessThanOrEqual(byImpedance.apparentVoltAmpere * (1 + 1e-12));
        expect(byClamp.powerWatt).toBeCloseTo(byImpedance.powerWatt, 6);
        expect(byClamp.impedanceOhm).toBeCloseTo(impedanceOhm, 9);
        const resistive = deliveredPower({ voltageRms, loadOhm: impedanceOhm });
        expect(deliveredPower({ voltageRms, impedanceOhm, phaseDeg: 0 }).powerWatt).toBeCloseTo(resistive.powerWatt, 6);
      }),
      SEED,
    );
  });

  it('at one voltage doubles as the load halves', () => {
    fc.assert(
      fc.property(volt, ohm, (voltageRms, loadOhm) => {
        const once = deliveredPower({ voltageRms, loadOhm }).powerWatt;
        expect(deliveredPower({ voltageRms, loadOhm: loadOhm / 2 }).powerWatt / once).toBeCloseTo(2, 9);
      }),
      SEED,
    );
  });
});

describe('sag', () => {
  it('predicts the loaded voltage back, and less voltage into every lower load', () => {
    fc.assert(
      fc.property(volt, fc.double({ min: 0.3, max: 1, noNaN: true }), ohm, (unloadedVoltage, share, loadOhm) => {
        const loadedVoltage = unloadedVoltage * share;
        const { sourceOhm, dropDb, predictions } = sag({
          unloadedVoltage,
          loadedVoltage,
          loadOhm,
          predictLoadsOhm: [loadOhm, loadOhm / 2, loadOhm / 4],
        });
        expect(predictions[0]!.voltageRms).toBeCloseTo(loadedVoltage, 6);
        expect(predictions[1]!.voltageRms).toBeLessThanOrEqual(predictions[0]!.voltageRms * (1 + 1e-12));
        expect(predictions[2]!.voltageRms).toBeLessThanOrEqual(predictions[1]!.voltageRms * (1 + 1e-12));
        expect(sourceOhm).toBeGreaterThanOrEqual(0);
        expect(dropDb).toBeCloseTo(-20 * Math.log10(share), 6);
      }),
      SEED,
    );
  });
});

describe('hookup', () => {
  it('bridged sees half, and never judges milder than either minimum alone', () => {
    fc.assert(
      fc.property(ohm, ohm, ohm, (loadOhm, minimumBridgedOhm, minimumStereoOhm) => {
        const both = hookup({ mode: 'bridged', loadOhm, minimumBridgedOhm, minimumStereoOhm });
        const tooLow = loadOhm < minimumBridgedOhm * (1 - LOAD_SLACK) || loadOhm / 2 < minimumStereoOhm * (1 - LOAD_SLACK);
        expect(both.perChannelOhm).toBe(loadOhm / 2);
        expect(both.verdict).toBe(tooLow ? 'below-minimum' : 'fits');
      }),
      SEED,
    );
  });
});

const SETTINGS: TuneSettings = { rules: DEFAULT_RULES, meter: { percent: 1, digits: 3, highestHz: 1000, trueRms: true } };

/** Any chain that a person may enter: one or two amplifiers, up to six channels of one to three drivers. */
const chains: fc.Arbitrary<Chain> = fc
  .record({
    amplifiers: fc.integer({ min: 1, max: 2 }),
    channels: fc.array(
      fc.record({
        on: fc.integer({ min: 0, max: 1 }),
        mode: fc.constantFrom('stereo' as const, 'bridged' as const, 'mono' as const),
        band: fc.constantFrom('bass' as const, 'full-range' as const),
        drivers: fc.array(
          fc.record({
            coils: fc.constantFrom(1 as const, 2 as const, 4 as const),
            coilOhm: fc.constantFrom(1, 2, 4, 8),
            ratedPowerWatt: fc.integer({ min: 10, max: 500 }),
          }),
          { minLength: 1, maxLength: 3 },
        ),
      }),
      { maxLength: 6 },
    ),
    outputVolt: volt,
  })
  .map(({ amplifiers, channels, outputVolt }) => ({
    source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured', outputVolt, ceilingVolt: outputVolt * 1.2 },
    amplifiers: Array.from({ length: amplifiers }, (_, i) => ({
      id: `a${i}`,
      name: `Amplifier ${i}`,
      ratings: [
        { mode: 'stereo' as const, loadOhm: 2, powerWatt: 100 },
        { mode: 'bridged' as const, loadOhm: 4, powerWatt: 200 },
        { mode: 'mono' as const, loadOhm: 1, powerWatt: 500 },
      ],
      minimumStereoOhm: 2,
      minimumBridgedOhm: 4,
      minimumMonoOhm: 1,
    })),
    channels: channels.map(({ on, mode, band, drivers }, i) => {
      const siemens = drivers.reduce((sum, { coils, coilOhm }) => sum + coils / coilOhm, 0);
      return {
        id: `c${i}`,
        name: `Channel ${i}`,
        amplifierId: `a${Math.min(on, amplifiers - 1)}`,
        mode,
        terminals: `${i}`,
        band,
        loadOhm: 1 / siemens,
        drivers: drivers.map((driver, d) => ({ id: `c${i}-d${d}`, name: `Driver ${d}`, ...driver })),
      };
    }),
  }));

describe('any chain', () => {
  it('wired all in parallel is free of faults, and asks to meter, hook up, set and prove every channel', () => {
    fc.assert(
      fc.property(chains, (chain) => {
        expect(chainFaults(chain)).toEqual([]);
        const now = situation(chain, SETTINGS);
        const every = runOf(now);
        expect(new Set(every.map(({ id }) => id)).size).toBe(every.length);
        const ofKind = (kind: string) => every.filter((step) => step.kind.kind === kind).map(({ channels: [of] }) => of!.channel.id);
        for (const kind of ['whole', 'hookup', 'gain', 'proof']) expect(ofKind(kind)).toEqual(chain.channels.map(({ id }) => id));
        for (const { power, target, channel } of channelsNow(now)) {
          if (power.kind === 'unknown') expect(target).toBeUndefined();
          else expect(target!.fullScaleVoltage ** 2 / channel.loadOhm).toBeCloseTo(power.powerWatt, 6);
        }
      }),
      SEED,
    );
  });

  it('is summed up without losing a step, and names a next one unless all are settled', () => {
    fc.assert(
      fc.property(chains, (chain) => {
        const { counts, total, next } = runSummary(runOf(situation(chain, SETTINGS)), say);
        expect(Object.values(counts).reduce((a, b) => a + b, 0)).toBe(total);
        expect(next === undefined).toBe(counts.done + counts.skipped === total);
      }),
      SEED,
    );
  });

  it('has its gain done by a reading on target, and a reading under load stale again when the load changes', () => {
    fc.assert(
      fc.property(chains, (chain) => {
        for (const { channel, target, hookup: seen } of channelsNow(situation(chain, SETTINGS))) {
          // Two loads on one output are another matter than a load that changes.
          const isAlone = !chain.channels.some(
            (each) => each.id !== channel.id && each.amplifierId === channel.amplifierId && each.mode === 'mono',
          );
          if (target === undefined || !isAlone) continue;
          const step = { id: `gain:${channel.id}`, kind: 'gain' } as const;
          const conditions = loadConditionsIn(step, chain, SETTINGS);
          const reading: Reading = {
            id: 'r',
            stepId: step.id,
            kind: 'gain-voltage',
            value: target.settingVoltage,
            resolution: 0.001,
            conditions,
            takenAt: '2026-01-01T00:00:00.000Z',
          };
          const now = situation(chain, SETTINGS, { readings: [reading], marks: allTicked(chain, SETTINGS) });
          const fits = seen.verdict !== 'below-minimum';
          expect(stateIn(step, chain, SETTINGS, now.records).status).toBe(fits ? 'done' : 'stop');
          expect(staleReasons(LOAD_STANDS_ON, conditions, { ...conditions, loadOhm: conditions.loadOhm * 2 })).toHaveLength(1);
          const [, amplifier, drivers] = levelPath(
            now,
            channelsNow(now).find((each) => each.channel.id === channel.id)!,
          );
          // The target is the lesser of two ratings, so one stage has no headroom left and none is over.
          const headrooms = [amplifier!.headroomDb!, drivers!.headroomDb!];
          expect(Math.min(...headrooms)).toBeCloseTo(0, 6);
        }
      }),
      SEED,
    );
  });
});

describe('any file', () => {
  const tolerant = (bytes: Uint8Array): void => {
    try {
      const { channels } = analyseTrace(readCapture(bytes));
      for (const channel of channels) {
        for (const figure of [channel.voltageRms, channel.crestFactor, channel.dcOffsetVolt, channel.peakPositiveVolt])
          expect(Number.isFinite(figure)).toBe(true);
      }
    } catch (error) {
      // The only error that may come out is one in words.
      expect(error).toBeInstanceOf(CoreError);
      expect((error as CoreError).message.length).toBeGreaterThan(15);
    }
  };

  it('of random bytes is read or refused in words, never more', () => {
    fc.assert(fc.property(fc.uint8Array({ maxLength: 3000 }), tolerant), { ...SEED, numRuns: 300 });
  });

  it('of random table-like text is read or refused in words', () => {
    const cell = fc.constantFrom('0', '1', '-2.5', '3e-3', '', 'x', '1,5', '1e', '-', '.', '"4"', 'NaN', '99999999999', '0.00000000001');
    const line = fc.array(cell, { maxLength: 5 }).chain((cells) => fc.constantFrom(',', ';', '\t', ' ').map((d) => cells.join(d)));
    fc.assert(
      fc.property(fc.array(line, { maxLength: 30 }), fc.constantFrom('\n', '\r\n', '\r'), (lines, end) =>
        tolerant(new TextEncoder().encode(lines.join(end))),
      ),
      { ...SEED, numRuns: 500 },
    );
  });

  it('of a sound recording cut off anywhere is read or refused in words', () => {
    const whole = new Uint8Array(2044);
    const view = new DataView(whole.buffer);
    const word = (at: number, text: string): void => Array.from(text).forEach((c, i) => view.setUint8(at + i, c.charCodeAt(0)));
    word(0, 'RIFF');
    word(8, 'WAVEfmt ');
    view.setUint32(16, 16, true);
    view.setUint16(20, 1, true);
    view.setUint16(22, 1, true);
    view.setUint32(24, 48000, true);
    view.setUint16(34, 16, true);
    word(36, 'data');
    view.setUint32(40, 2000, true);
    for (let i = 0; i < 1000; i += 1) view.setInt16(44 + 2 * i, Math.round(9000 * Math.sin(i / 5)), true);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: whole.length }), (length) => tolerant(whole.slice(0, length))),
      { ...SEED, numRuns: 200 },
    );
  });
});
