import { voltageFactor, type Chain, type SettingsCase, type SourceOutput } from '@yield/core';
import { limited, type Limiting } from './clipping.ts';
import type { Waveform } from './waveform.ts';

/** How a simulated source really behaves. */
export interface SourcePhysics {
  /** RMS of a full-scale tone at every volume step from 0 up, were there no rails */
  voltAtStep: readonly number[];
  /** where its preamp output clips, peak */
  railVolt: number;
  limiting: Limiting;
}

/** What a tuner can change on it. */
export interface SourceSetting {
  volume: number;
  toneHz: number;
  toneLevelDbfs: number;
  /** what the settings case lifts this tone by */
  liftDb: number;
}

/** Decibels from one volume step to the next, on every source of the bench. */
export const VOLUME_STEP_DB = 1.5;
/** The rails lie this much above the highest clean voltage that was measured: the next step is over them. */
export const SPARE = 1.04;
const USUAL_OUTPUT_VOLT = 2;
const USUAL_SPARE = 1.15;

/** Makes up a chain's source, so that it fits what was measured of it. */
export function sourcePhysics({ source }: Chain): SourcePhysics {
  const { workingVolume, volumeSteps, outputVolt = USUAL_OUTPUT_VOLT, ceilingVolt = outputVolt * USUAL_SPARE } = source;
  return {
    voltAtStep: Array.from({ length: volumeSteps + 1 }, (_, step) => outputVolt * voltageFactor(VOLUME_STEP_DB * (step - workingVolume))),
    railVolt: Math.SQRT2 * ceilingVolt * SPARE,
    limiting: 'soft',
  };
}

const BASS_HZ = 150;

/** What a settings case lifts a tone by at an output: bass tones alone, and sub level at the sub output alone. */
export function caseLiftDb({ subNotches = 0, bassRaised = false }: SettingsCase, toneHz: number, output: SourceOutput): number {
  if (toneHz > BASS_HZ) return 0;
  return (output === 'preamp-sub' ? subNotches * 0.75 : 0) + (bassRaised ? 4.5 : 0);
}

/** The voltage at the source's output over time. */
export function sourceWaveform({ voltAtStep, railVolt, limiting }: SourcePhysics, setting: SourceSetting): Waveform {
  const rms = (voltAtStep[setting.volume] ?? 0) * voltageFactor(setting.toneLevelDbfs + setting.liftDb);
  const omega = 2 * Math.PI * setting.toneHz;
  return (second) => limited(Math.SQRT2 * rms * Math.sin(omega * second), railVolt, limiting);
}

/** How a simulated line processor behaves between its knobs. */
export interface ProcessorSetting {
  /** RMS of the tone at its input */
  inputVolt: number;
  /** 0 = lowest, 1 = highest */
  inputKnob: number;
  outputKnob: number;
}

/** RMS inside, where the clip light comes on. */
const INSIDE_MOST_VOLT = 2.2;
const KNOB_RANGE_DB = 24;

/** What a processor's output shows, and whether its clip light is on. */
export function processorLevels({ inputVolt, inputKnob, outputKnob }: ProcessorSetting): { outputVolt: number; lightOn: boolean } {
  const inside = inputVolt * voltageFactor(KNOB_RANGE_DB * (inputKnob - 0.75));
  return {
    outputVolt: Math.min(inside, INSIDE_MOST_VOLT) * voltageFactor(KNOB_RANGE_DB * (outputKnob - 0.6)),
    lightOn: inside > INSIDE_MOST_VOLT,
  };
}
