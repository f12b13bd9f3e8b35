import type { Meter } from '@yield/core';
import type { Random } from '@yield/core';
import { waveformRms, type Waveform } from './waveform.ts';

/** A voltmeter on its AC range. A real instrument on a serial line could stand behind the same interface. */
export interface AcVoltmeter {
  readonly specification: Meter;
  read(): Promise<{ display: string; volt: number }>;
}

/** A scope that saves what it shows as a file. */
export interface Oscilloscope {
  capture(): Promise<{ fileName: string; text: string }>;
}

/** What an instrument's probes sit on at the moment of reading. */
export type Probe = () => { waveform: Waveform; toneHz: number };

const METER_COUNTS = 6000;

/** A 6000-count meter: its own error is fixed at birth within the stated percentage; the last digit flickers. */
export function simulatedMeter(probe: Probe, specification: Meter, random: Random): AcVoltmeter {
  const ownError = 1 + ((2 * random.uniform() - 1) * 0.6 * specification.percent) / 100;
  return {
    specification,
    read: () => {
      const { waveform, toneHz } = probe();
      // First-order roll-off, 1 % down at the highest frequency that the manual promises.
      const rollOff = 1 / Math.sqrt(1 + 0.02 * (toneHz / specification.highestHz) ** 2);
      const volt = waveformRms(waveform, toneHz) * ownError * rollOff;
      const decimals = decimalsFor(volt);
      const flicker = Math.round(random.uniform() * 2 - 1) * 10 ** -decimals;
      const shown = Math.max(0, volt + flicker);
      return Promise.resolve({ display: shown.toFixed(decimals), volt: shown });
    },
  };
}

function decimalsFor(volt: number): number {
  for (const decimals of [3, 2, 1]) if (volt * 10 ** decimals < METER_COUNTS) return decimals;
  return 0;
}

/** A voltmeter's other range. Overload is shown as letters, as on any handheld meter. */
export interface Ohmmeter {
  /** of both leads together */
  readonly leadOhm: number;
  read(): Promise<{ display: string; ohm: number }>;
}

const OHM_COUNTS = 600;

/** The same meter on ohms: steps of 0.1 Ω in its lowest range, its own error fixed at birth, its leads in every figure. */
export function simulatedOhmmeter(probe: () => number, specification: Meter, random: Random): Ohmmeter {
  const ownError = 1 + ((2 * random.uniform() - 1) * 0.4 * (specification.ohmPercent ?? 1)) / 100;
  const leadOhm = 0.2;
  return {
    leadOhm,
    read: () => {
      const ohm = probe() * ownError + leadOhm;
      if (ohm > 40e6) return Promise.resolve({ display: 'OL', ohm: Infinity });
      const decimals = ohm * 10 < OHM_COUNTS ? 1 : 0;
      return Promise.resolve({ display: ohm.toFixed(decimals), ohm: Number(ohm.toFixed(decimals)) });
    },
  };
}

export interface ScopeSettings {
  samples: number;
  cycles: number;
  bits: number;
  /** noise against the range, RMS */
  noise: number;
  /** full height in volts, or the smallest standard range that holds the signal */
  rangeVolt?: number;
}

const SCOPE_DEFAULTS: ScopeSettings = { samples: 5000, cycles: 8, bits: 8, noise: 0.002 };
const STANDARD_RANGES_VOLT = [0.4, 0.8, 1.6, 4, 8, 16, 40, 80, 160, 400];

/** An eight-bit bench scope with standard ranges, whose screen ends at its rails. */
export function simulatedScope(probe: Probe, random: Random, settings: Partial<ScopeSettings> = {}): Oscilloscope {
  const { samples, cycles, bits, noise, rangeVolt } = { ...SCOPE_DEFAULTS, ...settings };
  return {
    capture: () => {
      const { waveform, toneHz } = probe();
      const interval = cycles / toneHz / samples;
      const start = random.uniform() / toneHz;
      const clean = Float64Array.from({ length: samples }, (_, n) => waveform(start + n * interval));
      const height = clean.reduce((high, v) => Math.max(high, Math.abs(v)), 0) * 2.2;
      const range = rangeVolt ?? STANDARD_RANGES_VOLT.find((r) => r >= height) ?? 400;
      const step = range / 2 ** bits;
      const rail = range / 2 - step;
      const lines = [
        'Record Length,' + String(samples),
        `Sample Interval,${interval.toExponential(6)}`,
        'Vertical Units,V',
        `Vertical Scale,${range / 8}`,
        '',
        'TIME,CH1',
      ];
      clean.forEach((volt, n) => {
        const noisy = volt + noise * range * random.normal();
        const coded = Math.max(-rail - step, Math.min(rail, Math.round(noisy / step) * step));
        lines.push(`${(n * interval).toExponential(6)},${coded.toFixed(4)}`);
      });
      return Promise.resolve({ fileName: 'capture.csv', text: `${lines.join('\n')}\n` });
    },
  };
}
