// What has to hold for any plan, each property with a fixed seed.
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chainFaults } from '../job/chainFaults.ts';
import { wiredLoadOhm } from '../job/channelWiring.ts';
import type { Chain, Channel } from '../job/chain.ts';
import { normalizeChannel } from '../job/normalizeChannel.ts';
import { targetPower } from '../job/targetPower.ts';
import { driverLetter, type DriverSpec } from './drivers.ts';
import { hookupPlans } from './hookupPlans.ts';
import { loadOptions } from './loadOptions.ts';
import { meterDiagnosis } from './meterDiagnosis.ts';
import { planLoads, type PlanAmplifier } from './planLoads.ts';
import { seriesResistor } from './seriesResistor.ts';
import { AWG_GAUGES, METRIC_GAUGES, speakerWire } from './speakerWire.ts';
import { whatToBuy } from './whatToBuy.ts';

const SEED = { seed: 4620, numRuns: 60 };
const coils = fc.constantFrom<1 | 2 | 4>(1, 2, 4);
const kinds = fc.record({ coils, coilOhm: fc.constantFrom(1, 2, 4, 8), ratedPowerWatt: fc.integer({ min: 20, max: 1000 }) });
const drivers = fc
  .array(kinds, { minLength: 1, maxLength: 5 })
  .map((specs): (DriverSpec & { ratedPowerWatt: number })[] => specs.map((spec, i) => ({ ...spec, name: driverLetter(i) })));
const amplifiers: fc.Arbitrary<PlanAmplifier> = fc
  .record({
    mode: fc.constantFrom('stereo' as const, 'bridged' as const, 'mono' as const),
    minimum: fc.constantFrom(0.5, 1, 2, 4),
    watt: fc.integer({ min: 50, max: 3000 }),
  })
  .map(({ mode, minimum, watt }) => ({
    mode,
    minimumStereoOhm: minimum,
    minimumBridgedOhm: 2 * minimum,
    minimumMonoOhm: minimum,
    ratings: [{ mode, loadOhm: minimum, powerWatt: watt }],
  }));
const ohm = fc.double({ min: 0.25, max: 32, noNaN: true });
const watt = fc.double({ min: 1, max: 3000, noNaN: true });

describe('any plan', () => {
  it('gives the drivers all that the amplifier makes, and sets no coil over its rating', () => {
    fc.assert(
      fc.property(drivers, amplifiers, (specs, amplifier) => {
        for (const { amplifierWatt, usableWatt, drivers: powers, hookup, tradeOff, verdict } of planLoads({ drivers: specs, amplifier })
          .wirings) {
          expect(tradeOff.length).toBeGreaterThan(20);
          if (verdict === 'below-minimum') expect(hookup.verdict).toBe('below-minimum');
          if (amplifierWatt === undefined || usableWatt === undefined) continue;
          expect(powers.reduce((sum, { powerWatt }) => sum + powerWatt, 0) / amplifierWatt).toBeCloseTo(1, 9);
          expect(usableWatt).toBeLessThanOrEqual(amplifierWatt);
          for (const { ratedPart } of powers) expect((ratedPart! * usableWatt) / amplifierWatt).toBeLessThanOrEqual(1 + 1e-9);
        }
      }),
      SEED,
    );
  });

  it('makes no more of a higher load, where the drivers are not the limit', () => {
    fc.assert(
      fc.property(drivers, amplifiers, (specs, amplifier) => {
        const watts = planLoads({ drivers: specs, amplifier }).wirings.flatMap(({ amplifierWatt }) => amplifierWatt ?? []);
        watts.slice(1).forEach((next, i) => expect(next).toBeLessThanOrEqual(watts[i]! * (1 + 1e-9)));
      }),
      SEED,
    );
  });

  it('can be chosen: the chain takes it, its load and its target power', () => {
    fc.assert(
      fc.property(drivers, fc.nat({ max: 50 }), fc.option(fc.constantFrom(0.5, 1, 4)), (specs, pick, resistor) => {
        const { options } = loadOptions({ drivers: specs });
        const { network } = options[pick % options.length]!;
        const wired: Channel = {
          id: 'c',
          name: 'Channel',
          amplifierId: 'a',
          mode: 'mono',
          terminals: 'Out',
          band: 'bass',
          loadOhm: 1,
          drivers: specs.map(({ coils: count, coilOhm, ratedPowerWatt }, i) => ({
            id: `d${i}`,
            name: `Driver ${i}`,
            coils: count,
            coilOhm,
            ratedPowerWatt,
          })),
          wiring: { network, ...(resistor === null ? {} : { seriesResistorOhm: resistor }) },
        };
        const channel = { ...wired, loadOhm: wiredLoadOhm(wired)! };
        const amplifier = { id: 'a', name: 'Amp', ratings: [{ mode: 'mono' as const, loadOhm: 0.05, powerWatt: 5000 }] };
        const chain: Chain = {
          source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
          amplifiers: [amplifier],
          channels: [channel],
        };
        expect(chainFaults(chain)).toEqual([]);
        const power = targetPower(amplifier, channel);
        const together = specs.reduce((sum, { ratedPowerWatt }) => sum + ratedPowerWatt, 0);
        const coilsPart = 1 - (resistor ?? 0) / channel.loadOhm;
        // Unequal sharing can only take away from what the ratings together would allow.
        if (power.kind === 'known') expect(power.driversWatt * coilsPart).toBeLessThanOrEqual(together * (1 + 1e-9));
        expect(normalizeChannel(channel, { ...channel, name: 'Another name' }).wiring).toEqual(channel.wiring);
        expect(channel.wiring).toBeDefined();
        expect(normalizeChannel(channel, { ...channel, loadOhm: channel.loadOhm * 1.5 }).wiring).toBeUndefined();
      }),
      SEED,
    );
  });

  it('is metered as intended where the meter shows what was computed', () => {
    fc.assert(
      fc.property(drivers, fc.nat({ max: 50 }), (specs, pick) => {
        const measured = specs.map((spec) => ({ ...spec, coilDcOhm: spec.coilOhm * 0.85 }));
        const { options } = loadOptions({ drivers: measured });
        const { network, loadOhm } = options[pick % options.length]!;
        const { verdict, causes } = meterDiagnosis({ drivers: measured, intendedNetwork: network, meterOhm: 0.85 * loadOhm, leadOhm: 0 });
        expect(verdict).toBe('matches');
        expect(causes[0]!.kind).toBe('as-intended');
      }),
      SEED,
    );
  });
});

describe('what to buy', () => {
  it('gives the wished load with every coil at the same power', () => {
    fc.assert(
      fc.property(fc.constantFrom(0.25, 0.5, 1, 2, 4, 8, 16), drivers, (wished, specs) => {
        for (const { count, coils: each, coilOhm, network } of whatToBuy(wished, specs)) {
          const bought = Array.from({ length: count }, (_, i) => ({ name: driverLetter(i), coils: each, coilOhm }));
          const option = loadOptions({ drivers: bought }).options.find((o) => o.network === network)!;
          expect(option.loadOhm / wished).toBeCloseTo(1, 2);
          expect(option.balanced).toBe(true);
        }
      }),
      SEED,
    );
  });
});

describe('any use of an amplifier', () => {
  it('uses no channel twice, and no bridged channel sees more than half of its load', () => {
    fc.assert(
      fc.property(fc.constantFrom<1 | 2 | 4>(1, 2, 4), ohm, ohm, ohm, (outputs, frontOhm, rearOhm, subwooferOhm) => {
        for (const plan of hookupPlans({
          outputs,
          terminalPairs: 2,
          frontOhm,
          rearOhm,
          subwooferOhm,
          minimumStereoOhm: 2,
          minimumBridgedOhm: 4,
          minimumMonoOhm: 1,
        })) {
          const used = plan.outputs.flatMap(({ uses }) => uses);
          expect(new Set(used).size).toBe(used.length);
          expect(Math.max(...used)).toBeLessThan(outputs);
          for (const { mode, loadOhm, seen } of plan.outputs) expect(seen.perChannelOhm).toBe(mode === 'bridged' ? loadOhm / 2 : loadOhm);
          const low = plan.outputs.some(({ seen }) => seen.verdict === 'below-minimum');
          expect(plan.verdict).toBe(low ? 'below-minimum' : 'fits');
        }
      }),
      SEED,
    );
  });
});

describe('any resistor and any wire', () => {
  it('share out all of the power, and never lift the level', () => {
    fc.assert(
      fc.property(ohm, ohm, fc.double({ min: 0.5, max: 60, noNaN: true }), (loadOhm, resistorOhm, voltageRms) => {
        const result = seriesResistor({ loadOhm, resistorOhm, voltageRms });
        expect((result.coilsWatt + result.resistorWatt) / (voltageRms ** 2 / (loadOhm + resistorOhm))).toBeCloseTo(1, 9);
        expect(result.resistorShare).toBeCloseTo(resistorOhm / (loadOhm + resistorOhm), 9);
        expect(result.levelChangeDb).toBeLessThan(0);
        expect(result.wantedRatingWatt).toBeGreaterThanOrEqual(2 * result.resistorWatt * (1 - 1e-12));
      }),
      SEED,
    );
  });

  it('cost less the thicker the wire, and fit from the recommended one on', () => {
    fc.assert(
      fc.property(
        ohm,
        watt,
        fc.double({ min: 0.2, max: 15, noNaN: true }),
        fc.constantFrom(AWG_GAUGES, METRIC_GAUGES),
        (loadOhm, powerWatt, lengthMetre, gauges) => {
          const { rows, recommended } = speakerWire({ loadOhm, powerWatt, lengthMetre }, gauges);
          rows.slice(1).forEach((thicker, i) => {
            expect(thicker.levelChangeDb).toBeGreaterThan(rows[i]!.levelChangeDb);
            expect(thicker.wireOhm).toBeLessThan(rows[i]!.wireOhm);
            if (rows[i]!.fits) expect(thicker.fits).toBe(true);
          });
          expect(rows.find(({ fits }) => fits)?.gauge.name).toBe(recommended?.name);
        },
      ),
      SEED,
    );
  });
});
