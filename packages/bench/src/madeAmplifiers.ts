import { DEFAULT_RULES, seededRandom, voltageFactor, type Chain, type TuneSettings } from '@yield/core';
import { sourcePhysics, VOLUME_STEP_DB } from './source.ts';
import type { MadeVehicle } from './tuner.ts';
import { outputWaveform, type BenchSettings, type ChannelPhysics } from './vehicle.ts';

/** An amplifier that really behaves in some way, and what its plate says of it. */
export interface MadeAmplifier {
  name: string;
  chain: Chain;
  settings: TuneSettings;
  vehicle: MadeVehicle;
  /** in words, for the table */
  traits: string;
  /** RMS volts of the largest sine that stays clean under its load, at its supply, with its gain up as far as this source asks for */
  cleanVolt: number;
  /** RMS volts of its rating into its load */
  ratedVolt: number;
}

const LOADS = [1, 2, 4] as const;
const NOMINAL_SUPPLY_VOLT = 13.8;

/**
 * Amplifiers of all kinds: strong and weak rails, ratings true or bragged, supplies from 11 to 14.4 V at the end of a wire,
 * regulated or not, sensitivities from 0.2 to 9 V, hard or soft limiting, meters of 0.5 to 2 percent. Made up, and always the same ones.
 */
export function madeAmplifiers(count: number): MadeAmplifier[] {
  return Array.from({ length: count }, (_, i) => madeAmplifier(i));
}

function madeAmplifier(index: number): MadeAmplifier {
  const random = seededRandom(`amplifier ${index}`);
  const between = (low: number, high: number): number => low + (high - low) * random.uniform();
  const loadOhm = LOADS[Math.floor(3 * random.uniform())] ?? 4;
  const powerWatt = Math.round(between(40, 1500) / 10) * 10;
  const ratedVolt = Math.sqrt(powerWatt * loadOhm);
  // Under 1 it does not make what its plate says.
  const makes = between(0.6, 1.15);
  const sourceOhm = loadOhm * between(0.01, 0.12);
  const isRegulated = random.uniform() < 0.3;
  const supplyVolt = Math.round(between(11, 14.4) * 10) / 10;
  const [least, most] = [between(4, 9), between(0.2, 0.9)];
  const limiting = random.uniform() < 0.5 ? 'hard' : 'soft';
  const chain: Chain = {
    source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'assumed' },
    amplifiers: [
      {
        id: 'amp',
        name: `Amplifier ${index + 1}`,
        ratings: [{ mode: 'mono', loadOhm, powerWatt }],
        minimumMonoOhm: loadOhm,
        inputMinVolt: most,
        inputMaxVolt: least,
      },
    ],
    channels: [
      {
        id: 'ch',
        name: 'Bass',
        amplifierId: 'amp',
        mode: 'mono',
        terminals: 'out',
        band: 'bass',
        loadOhm,
        drivers: [{ id: 'd', name: 'Sub', coils: 1, coilOhm: loadOhm, ratedPowerWatt: 2 * powerWatt }],
        wiring: { network: 'A1' },
      },
    ],
  };
  const source = sourcePhysics(chain);
  const physics: ChannelPhysics = {
    sourcePeakVolt: Math.SQRT2 * source.voltAtStep[chain.source.volumeSteps]!,
    sourceRailVolt: source.railVolt,
    stepDb: VOLUME_STEP_DB,
    volumeSteps: chain.source.volumeSteps,
    lowestGain: ratedVolt / least,
    highestGain: ratedVolt / most,
    railVolt:
      (Math.SQRT2 * ratedVolt * makes * (1 + sourceOhm / loadOhm) * (isRegulated ? NOMINAL_SUPPLY_VOLT : 1)) /
      (isRegulated ? supplyVolt : 1),
    sourceOhm,
    loadOhm,
    limiting,
  };
  const settings: TuneSettings = {
    rules: { ...DEFAULT_RULES },
    meter: { percent: Math.round(between(0.5, 2) * 10) / 10, digits: 3, highestHz: 1000, trueRms: true },
    isPractice: true,
  };
  return {
    name: `Amplifier ${index + 1}`,
    chain,
    settings,
    vehicle: { physicsOf: () => physics, supplyVolt },
    traits: `${powerWatt} W into ${loadOhm}, makes ${Math.round(100 * makes ** 2)} %, ${supplyVolt} V${isRegulated ? ' regulated' : ''}, ${limiting}`,
    cleanVolt: Math.min(cleanVoltOf(physics, supplyVolt, settings.rules.limitThdPercent, settings.rules.bassToneHz), fedVoltOf(physics)),
    ratedVolt,
  };
}

/** RMS under load with the gain at its end stop and the source at its highest clean volume: a weak source leaves it there. */
function fedVoltOf({ sourcePeakVolt, sourceRailVolt, stepDb, volumeSteps, highestGain, loadOhm, sourceOhm }: ChannelPhysics): number {
  let peak = 0;
  for (let volume = 0; volume <= volumeSteps; volume += 1) {
    const atVolume = sourcePeakVolt * voltageFactor(stepDb * (volume - volumeSteps));
    if (atVolume <= sourceRailVolt) peak = atVolume;
  }
  return ((peak / Math.SQRT2) * highestGain * loadOhm) / (loadOhm + sourceOhm);
}

/** RMS of the largest output whose distortion stays within a limit, by turning the gain up in small steps. */
function cleanVoltOf(physics: ChannelPhysics, supplyVolt: number, limitThdPercent: number, toneHz: number): number {
  // A source without rails: only the amplifier is asked.
  const free = { ...physics, sourceRailVolt: Infinity, lowestGain: 1, highestGain: 1 };
  const bench: BenchSettings = { volume: physics.volumeSteps, knob: 0, loadConnected: true, toneHz, toneLevelDbfs: 0, supplyVolt };
  const ideal = (physics.railVolt * (supplyVolt / NOMINAL_SUPPLY_VOLT) * physics.loadOhm) / (physics.loadOhm + physics.sourceOhm);
  let clean = 0;
  for (let db = -6; db < 3; db += 0.02) {
    const wave = outputWaveform(
      { ...free, sourcePeakVolt: (ideal * voltageFactor(db) * (physics.loadOhm + physics.sourceOhm)) / physics.loadOhm },
      bench,
    );
    const { rms, thdPercent } = figuresOf(wave, toneHz);
    if (thdPercent > limitThdPercent) break;
    clean = rms;
  }
  return clean;
}

/** RMS and distortion (harmonics 2 to 10) of one cycle. */
export function figuresOf(wave: (second: number) => number, toneHz: number): { rms: number; thdPercent: number } {
  const samples = 2048;
  const values = Array.from({ length: samples }, (_, n) => wave(n / samples / toneHz));
  const amplitude = (order: number): number => {
    let [re, im] = [0, 0];
    values.forEach((value, n) => {
      const angle = (2 * Math.PI * order * n) / samples;
      re += value * Math.cos(angle);
      im += value * Math.sin(angle);
    });
    return Math.hypot(re, im);
  };
  const upper = [2, 3, 4, 5, 6, 7, 8, 9, 10].map(amplitude);
  return {
    rms: Math.sqrt(values.reduce((sum, value) => sum + value ** 2, 0) / samples),
    thdPercent: (100 * Math.hypot(...upper)) / amplitude(1),
  };
}
