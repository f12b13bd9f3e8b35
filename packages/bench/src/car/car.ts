import {
  channelCoils,
  channelNetwork,
  filterAt,
  filtersOf,
  networkOhm,
  times,
  voltageFactor,
  type Chain,
  type Channel,
  type Complex,
} from '@yield/core';
import type { Limiting } from '../clipping.ts';
import { factoryDbAt } from '../factoryUnit.ts';
import { coilResistances } from '../load.ts';
import { standingFilters } from '../standingFilters.ts';
import { bellAt, filteredCycle, levelAndPhase, limitedCycle, rmsOf, scaledCycle, sineCycle, type Bell, type Cycle } from './cycle.ts';

/** How a car's source really behaves. */
export interface RealSource {
  /** RMS of a full-scale tone at every volume step from 0 up, were there no rails */
  voltAtStep: readonly number[];
  /** where its output clips, peak */
  railVolt: number;
  limiting: Limiting;
  /** what it does to the signal before its output stage, told by nobody: a loudness that was left on */
  hiddenBell?: Bell;
  /** a factory unit: it equalises for its own speakers, and holds bass back from this step on */
  holdsBackFrom?: number;
}

/** A line processor between two knobs and two limits. */
export interface RealProcessor {
  /** where its input clips, peak, with the input knob at 0 dB */
  inputRailVolt: number;
  /** where an output clips, peak */
  outputRailVolt: number;
}

export interface RealAmplifier {
  /** voltage gain at the two ends of the knob */
  lowestGain: number;
  highestGain: number;
  /** rails at 13.8 V without load, peak */
  railVolt: number;
  sourceOhm: number;
  limiting: Limiting;
  isRegulated: boolean;
  /** at its terminals with nothing playing, and what wire and battery have together */
  supplyVolt: number;
  supplyOhm: number;
  /** a boost on its panel that was left up */
  hiddenBell?: Bell;
  /** a filter of its own that nobody spoke of */
  hiddenHighpassHz?: number;
}

/** What really hangs on a channel's wires. */
export interface RealLoad {
  /** what an impedance of the drivers' nominal value is multiplied by at a frequency */
  riseAt: (hertz: number) => number;
  wiring: 'right' | 'one-coil' | 'driver-off' | 'short' | 'open' | 'other-join';
  /** nothing reaches its terminals but hiss */
  isDead?: boolean;
}

export interface RealCar {
  seed: string;
  source: RealSource;
  processor?: RealProcessor;
  amplifierOf: Readonly<Record<string, RealAmplifier>>;
  loadOf: Readonly<Record<string, RealLoad>>;
}

const NOMINAL_SUPPLY_VOLT = 13.8;
/** Of what a class-D amplifier takes from its battery. Common practice, no source. */
const EFFICIENCY = 0.75;

/** What a tone meets: where it plays, how loud, and what stands between. */
export interface Played {
  volume: number;
  toneHz: number;
  toneLevelDbfs: number;
}

/** A car whose knobs are turned, and whose signal is followed stage by stage. */
export class Car {
  /** knobs by channel from 0 to 1, processor outputs by id in dB, the processor's input in dB */
  readonly gains = new Map<string, number>();
  readonly outputsDb = new Map<string, number>();
  inputDb = LOWEST_INPUT_DB;
  /** what is wrong with it is mended part by part, when its tuner is sent to look */
  real: RealCar;

  constructor(real: RealCar) {
    this.real = real;
  }

  source({ volume, toneHz, toneLevelDbfs }: Played): Cycle {
    const { voltAtStep, railVolt, limiting, hiddenBell, holdsBackFrom } = this.real.source;
    const shapedDb = holdsBackFrom === undefined ? 0 : factoryDbAt(toneHz, volume, holdsBackFrom);
    const rms = (voltAtStep[volume] ?? 0) * voltageFactor(toneLevelDbfs + shapedDb);
    const lifted = hiddenBell === undefined ? 1 : Math.hypot(bellAt(hiddenBell, toneHz).re, bellAt(hiddenBell, toneHz).im);
    return limitedCycle(sineCycle(rms * lifted), railVolt, limiting);
  }

  /** Behind the processor's input stage. */
  private inside(played: Played): Cycle {
    const { inputRailVolt } = this.real.processor!;
    return limitedCycle(scaledCycle(this.source(played), voltageFactor(this.inputDb)), inputRailVolt, 'hard');
  }

  isInputClipped(played: Played): boolean {
    const driven = Math.SQRT2 * rmsOf(this.source(played)) * voltageFactor(this.inputDb);
    return this.real.processor !== undefined && driven > this.real.processor.inputRailVolt;
  }

  /**
   * At a processor's output.
   *
   * @param behind - the channel that hangs there, where its filters are set already; none while levels are set, its filters still off
   */
  output(chain: Chain, outputId: string, played: Played, behind?: Channel): Cycle {
    const filtered =
      behind === undefined ? this.inside(played) : this.filtered(chain, behind, 'processor', this.inside(played), played.toneHz);
    const db = this.outputsDb.get(outputId) ?? 0;
    return limitedCycle(scaledCycle(filtered, voltageFactor(db)), this.real.processor!.outputRailVolt, 'hard');
  }

  /** At a channel's terminals. */
  terminals(chain: Chain, channel: Channel, played: Played, isLoaded: boolean): Cycle {
    const amplifier = this.real.amplifierOf[channel.amplifierId]!;
    const load = this.real.loadOf[channel.id]!;
    if (load.isDead === true) return sineCycle(0.0015);
    const { processorOutputId } = channel;
    const fed = processorOutputId === undefined ? this.source(played) : this.output(chain, processorOutputId, played, channel);
    const own = this.filtered(chain, channel, 'amplifier', fed, played.toneHz);
    const { hiddenBell, hiddenHighpassHz } = amplifier;
    const bent =
      hiddenBell === undefined && hiddenHighpassHz === undefined
        ? own
        : filteredCycle(own, played.toneHz, (hertz) =>
            times(
              hiddenBell === undefined ? { re: 1, im: 0 } : bellAt(hiddenBell, hertz),
              hiddenHighpassHz === undefined
                ? { re: 1, im: 0 }
                : levelAndPhase(filterAt({ kind: 'highpass', family: 'butterworth', order: 2, cornerHz: hiddenHighpassHz }, hertz)),
            ),
          );
    const gain = this.gainOf(channel);
    const ohm = isLoaded ? this.loadOhm(channel, played.toneHz) : Infinity;
    const divider = ohm === Infinity ? 1 : ohm / (ohm + amplifier.sourceOhm);
    const driven = scaledCycle(bent, gain * divider);
    let supplyVolt = amplifier.supplyVolt;
    let out = driven;
    // The supply comes down by what the amplifier takes, which comes down with the supply: it settles in a few turns.
    for (let turn = 0; turn < 4; turn += 1) {
      const rail = amplifier.railVolt * (amplifier.isRegulated ? 1 : supplyVolt / NOMINAL_SUPPLY_VOLT) * divider;
      out = limitedCycle(driven, rail, amplifier.limiting);
      if (ohm === Infinity || amplifier.supplyOhm === 0) break;
      supplyVolt = amplifier.supplyVolt - amplifier.supplyOhm * (rmsOf(out) ** 2 / ohm / EFFICIENCY / Math.max(8, supplyVolt));
    }
    return out;
  }

  supplyVolt(chain: Chain, channel: Channel, played: Played | undefined): number {
    const { supplyVolt, supplyOhm } = this.real.amplifierOf[channel.amplifierId]!;
    if (played === undefined) return supplyVolt;
    const rms = rmsOf(this.terminals(chain, channel, played, true));
    return supplyVolt - supplyOhm * (rms ** 2 / this.loadOhm(channel, played.toneHz) / EFFICIENCY / supplyVolt);
  }

  loadAmpere(chain: Chain, channel: Channel, played: Played): number {
    return rmsOf(this.terminals(chain, channel, played, true)) / this.loadOhm(channel, played.toneHz);
  }

  gainOf(channel: Channel): number {
    const { lowestGain, highestGain } = this.real.amplifierOf[channel.amplifierId]!;
    return lowestGain * (highestGain / lowestGain) ** (this.gains.get(channel.id) ?? STARTING_KNOB);
  }

  /** What the amplifier sees at a frequency. */
  loadOhm(channel: Channel, hertz: number): number {
    const { riseAt, wiring } = this.real.loadOf[channel.id]!;
    const dc = this.copperOhm(channel);
    const nominal = { right: 1, 'other-join': 1, 'driver-off': 1, 'one-coil': 1, short: 1, open: 1 }[wiring];
    // Copper lies below the nominal figure by a sixth or so.
    return Math.max(0.05, dc * 1.18 * riseAt(hertz) * nominal);
  }

  /** What an ohmmeter sees between the channel's wires. */
  copperOhm(channel: Channel): number {
    const { wiring } = this.real.loadOf[channel.id]!;
    const dc = coilResistances(channel, this.real.seed);
    const coils = channelCoils(channel);
    const ofAll = (): number => {
      const network = channelNetwork(channel);
      // An ohmmeter sees no coil behind a capacitor.
      const hidden = new Set(
        channel.passive?.filter(({ capacitanceFarad }) => capacitanceFarad !== undefined).map(({ driverId }) => driverId),
      );
      const ohmOf = (name: string): number => (hidden.has(channel.drivers[driverIndex(name)]!.id) ? Infinity : (dc.get(name) ?? Infinity));
      return network === undefined ? Infinity : networkOhm(network, ohmOf);
    };
    switch (wiring) {
      case 'right':
        return ofAll() + (channel.wiring?.seriesResistorOhm ?? 0);
      case 'one-coil':
        return dc.get(coils[0]!.name)!;
      case 'driver-off': {
        const left = coils.filter(({ driver }) => driver !== coils.at(-1)!.driver);
        return 1 / left.reduce((sum, { name }) => sum + 1 / dc.get(name)!, 0);
      }
      case 'other-join': {
        const [side, row] = [
          coils.reduce((sum, { name }) => sum + 1 / dc.get(name)!, 0),
          coils.reduce((sum, { name }) => sum + dc.get(name)!, 0),
        ];
        return Math.abs(ofAll() - row) < 0.01 * row ? 1 / side : row;
      }
      case 'short':
        return 0.1;
      case 'open':
        return 1e6;
    }
  }

  private filtered(chain: Chain, channel: Channel, place: 'processor' | 'amplifier', cycle: Cycle, toneHz: number): Cycle {
    const places = new Set(
      filtersOf(channel)
        .filter((filter) => (filter.place === 'amplifier') === (place === 'amplifier'))
        .map(({ id }) => id),
    );
    const filters = standingFilters(chain, channel, this.real.seed).filter(({ id }) => places.has(id));
    if (filters.length === 0) return cycle;
    return filteredCycle(cycle, toneHz, (hertz) =>
      filters.map((filter) => levelAndPhase(filterAt(filter, hertz))).reduce<Complex>((a, b) => times(a, b), { re: 1, im: 0 }),
    );
  }
}

/** Which of a channel's drivers a coil's name speaks of: "B1" of the second one. */
const driverIndex = (name: string): number => name.charCodeAt(0) - 'A'.charCodeAt(0);

/** A little above its end, so that something shows before it is turned. */
const STARTING_KNOB = 0.1;
export const LOWEST_INPUT_DB = -12;
