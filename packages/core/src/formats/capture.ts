import type { Samples } from '../numerics/samples.ts';

/** A capture as read from a file: evenly sampled channels. */
export interface Capture {
  format: 'csv' | 'wav';
  sampleRateHz: number;
  /** time of the first sample, as the file has it */
  startSecond: number;
  channels: CaptureChannel[];
  /** what was noticed while reading, in words */
  notes: string[];
  /** peak value of the recorder's own rails in the samples' unit; undefined where the file cannot tell */
  railVolt?: number;
  /** false where the samples are shares of digital full scale, not volts */
  calibrated: boolean;
}

export interface CaptureChannel {
  name: string;
  samples: Samples;
}
