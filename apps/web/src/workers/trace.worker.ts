import {
  analyseCurve,
  analyseTrace,
  buildEnvelope,
  CoreError,
  envelopeColumns,
  readCapture,
  spectrumPoints,
  type Capture,
  type ChannelAnalysis,
  type EnvelopePyramid,
  type ReadCaptureOptions,
  type Samples,
  type SpectrumPoint,
  type TraceAnalysis,
  type TraceOptions,
  fittedVolt,
} from '@yield/core';
import * as Comlink from 'comlink';

export interface LoadedCapture {
  analysis: TraceAnalysis;
  sampleCount: number;
  startSecond: number;
  notes: string[];
}

export type LoadOutcome = { kind: 'loaded'; capture: LoadedCapture } | { kind: 'refused'; message: string };

interface Lane {
  samples: Samples;
  pyramid: EnvelopePyramid;
}

let capture: Capture | null = null;
let analysis: TraceAnalysis | null = null;
const lanes = new Map<string, Lane>();

const traceWorker = {
  /** Reads and analyses a capture and keeps it for views. Faults of the file come back as words. */
  load(bytes: Uint8Array, options: ReadCaptureOptions & TraceOptions, onStage: (words: string) => void): LoadOutcome {
    try {
      onStage('Reading the file');
      lanes.clear();
      if (options.curve === true) {
        capture = null;
        analysis = analyseCurve(bytes);
        return { kind: 'loaded', capture: { analysis, sampleCount: 0, startSecond: 0, notes: [] } };
      }
      capture = readCapture(bytes, options);
      const { channels, startSecond, notes } = capture;
      analysis = analyseTrace(capture, options, (index, share) =>
        onStage(
          `Analysing ${channels[index]?.name ?? 'the channel'} (${index + 1} of ${channels.length})${share > 0 ? `, ${Math.round(100 * share)} %` : ''}`,
        ),
      );
      return { kind: 'loaded', capture: { analysis, sampleCount: channels[0]?.samples.length ?? 0, startSecond, notes } };
    } catch (error) {
      if (error instanceof CoreError) return { kind: 'refused', message: error.message };
      throw error;
    }
  },

  /** Lowest and highest value for each column of a view; the residual is what the fitted sine leaves. */
  envelope(channel: number, kind: 'wave' | 'residual', from: number, to: number, columns: number): Float32Array {
    const lane = laneOf(channel, kind);
    const values = envelopeColumns(lane.samples, lane.pyramid, from, to, columns);
    return Comlink.transfer(values, [values.buffer]);
  },

  /** Figures and verdict of samples that come live, as shares of full scale. */
  judge(samples: Float32Array, sampleRateHz: number, options: TraceOptions, fullScaleVolt: number | undefined): ChannelAnalysis {
    const scale = fullScaleVolt ?? 1;
    const live: Capture = {
      format: 'wav',
      sampleRateHz,
      startSecond: 0,
      channels: [{ name: 'Live', samples: Float64Array.from(samples, (value) => value * scale) }],
      notes: [],
      railVolt: scale,
      calibrated: fullScaleVolt !== undefined,
    };
    return analyseTrace(live, options).channels[0]!;
  },

  spectrum(channel: number, points: number): SpectrumPoint[] {
    const samples = capture?.channels[channel]?.samples;
    return capture === null || samples === undefined ? [] : spectrumPoints(samples, capture.sampleRateHz, points);
  },
};

function laneOf(channel: number, kind: 'wave' | 'residual'): Lane {
  const key = `${kind}:${channel}`;
  const kept = lanes.get(key);
  if (kept !== undefined) return kept;
  const samples = kind === 'wave' ? capture?.channels[channel]?.samples : residualOf(channel);
  const values = samples ?? new Float64Array();
  const lane = { samples: values, pyramid: buildEnvelope(values) };
  lanes.set(key, lane);
  return lane;
}

function residualOf(channel: number): Samples {
  const samples = capture?.channels[channel]?.samples ?? new Float64Array();
  const fit = analysis?.channels[channel]?.fit;
  if (fit === undefined || capture === null) return new Float64Array(samples.length);
  const { sampleRateHz } = capture;
  return samples.map((value, n) => value - fittedVolt(fit, n / sampleRateHz));
}

export type TraceWorker = typeof traceWorker;

Comlink.expose(traceWorker);
