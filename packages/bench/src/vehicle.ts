import { voltageFactor, type Chain, type Channel } from '@yield/core';
import { seededRandom } from '@yield/core';
import { limited, type Limiting } from './clipping.ts';
import { sourcePhysics, VOLUME_STEP_DB } from './source.ts';
import { waveformRms, type Waveform } from './waveform.ts';

/** What a bench tuner can change on one channel. */
export interface BenchSettings {
  volume: number;
  /** gain knob, 0 = least sensitive end, 1 = most sensitive end */
  knob: number;
  loadConnected: boolean;
  toneHz: number;
  toneLevelDbfs: number;
  /** at the amplifier's terminals; 13.8 with the engine running */
  supplyVolt: number;
  /** what the filters before the amplifier take off this tone */
  filterDb?: number;
}

/** How one channel of a simulated vehicle really behaves, which nobody can read off a plate. */
export interface ChannelPhysics {
  /** preamp voltage of a full-scale tone at the highest volume step, peak */
  sourcePeakVolt: number;
  /** where the preamp output clips, peak */
  sourceRailVolt: number;
  /** volume law: decibels from one step to the next */
  stepDb: number;
  volumeSteps: number;
  /** voltage gain at the two ends of the knob */
  lowestGain: number;
  highestGain: number;
  /** rails at 13.8 V without load, peak */
  railVolt: number;
  /** output resistance together with the supply's, in ohms */
  sourceOhm: number;
  loadOhm: number;
  limiting: Limiting;
}

const NOMINAL_SUPPLY_VOLT = 13.8;
const DEFAULT_INPUT_VOLT = { least: 6, most: 0.2 };

/**
 * Makes up the physics of one channel from its chain, within a few percent of what the plates say.
 *
 * @param seed - the same seed and chain give the same vehicle
 */
export function channelPhysics(chain: Chain, channel: Channel, seed: string): ChannelPhysics {
  const random = seededRandom(`${seed}/${channel.id}`);
  const amplifier = chain.amplifiers.find(({ id }) => id === channel.amplifierId);
  const rating = amplifier?.ratings
    .filter(({ mode }) => mode === channel.mode)
    .reduce<{ loadOhm: number; powerWatt: number } | undefined>(
      (best, r) => (best === undefined || Math.abs(r.loadOhm - channel.loadOhm) < Math.abs(best.loadOhm - channel.loadOhm) ? r : best),
      undefined,
    );
  const ratedPeakVolt = Math.sqrt(2 * (rating?.powerWatt ?? 50) * (rating?.loadOhm ?? 4));
  const sourceOhm = 0.03 * channel.loadOhm * (1 + random.uniform());
  const spare = 1.04 + 0.08 * random.uniform();
  const source = sourcePhysics(chain);
  return {
    sourcePeakVolt: Math.SQRT2 * source.voltAtStep[chain.source.volumeSteps]!,
    sourceRailVolt: source.railVolt,
    stepDb: VOLUME_STEP_DB,
    volumeSteps: chain.source.volumeSteps,
    lowestGain: ratedPeakVolt / (Math.SQRT2 * (amplifier?.inputMaxVolt ?? DEFAULT_INPUT_VOLT.least)),
    highestGain: ratedPeakVolt / (Math.SQRT2 * (amplifier?.inputMinVolt ?? DEFAULT_INPUT_VOLT.most)),
    // Under load the rails are to come down to a little over the rating.
    railVolt: ratedPeakVolt * spare * (1 + sourceOhm / channel.loadOhm),
    sourceOhm,
    loadOhm: channel.loadOhm,
    limiting: random.uniform() < 0.5 ? 'hard' : 'soft',
  };
}

/** Follows the tone through source and amplifier. */
export function outputWaveform(physics: ChannelPhysics, settings: BenchSettings): Waveform {
  const { volumeSteps, stepDb, sourcePeakVolt, sourceRailVolt, lowestGain, highestGain, railVolt, sourceOhm, loadOhm, limiting } = physics;
  const { volume, knob, loadConnected, toneHz, toneLevelDbfs, supplyVolt, filterDb = 0 } = settings;
  const sourcePeak = sourcePeakVolt * voltageFactor(stepDb * (volume - volumeSteps) + toneLevelDbfs);
  const gain = lowestGain * (highestGain / lowestGain) ** knob;
  // Rails and output alike come down by the divider of load and output resistance.
  const divider = loadConnected ? loadOhm / (loadOhm + sourceOhm) : 1;
  const rail = railVolt * (supplyVolt / NOMINAL_SUPPLY_VOLT) * divider;
  const omega = 2 * Math.PI * toneHz;
  return (second) => {
    const source = limited(sourcePeak * Math.sin(omega * second), sourceRailVolt, 'hard');
    return limited(source * voltageFactor(filterDb) * gain * divider, rail, limiting);
  };
}

/** The knob position that gives a voltage without clipping in the way: the gain is even in decibels over the knob. */
export function knobFor(wantedRms: number, physics: ChannelPhysics, bench: BenchSettings): number {
  const unlimited = { ...physics, railVolt: Infinity, limiting: 'hard' as const };
  const atLowest = waveformRms(outputWaveform(unlimited, { ...bench, knob: 0 }), bench.toneHz);
  const knob = Math.log(wantedRms / atLowest) / Math.log(physics.highestGain / physics.lowestGain);
  return Math.max(0, Math.min(1, knob));
}
