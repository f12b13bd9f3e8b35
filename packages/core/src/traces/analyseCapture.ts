import { CoreError } from '../coreError.ts';
import { readCapture, type ReadCaptureOptions } from '../formats/readCapture.ts';
import { readCurve } from '../response/readCurve.ts';
import { analyseTrace, type TraceAnalysis, type TraceOptions } from './analyseTrace.ts';

/** A table of this length is more than any measurement has. */
const MAX_CURVE_BYTES = 4_000_000;
const MAX_FAULTS = 20;
const PIECE = 8192;

/**
 * Figures and verdict of a file as it came: samples, or a response that was measured elsewhere.
 *
 * @throws {CoreError} for what cannot be read, each fault with its line
 */
export function analyseCapture(bytes: Uint8Array, options: ReadCaptureOptions & TraceOptions): TraceAnalysis {
  return options.curve === true ? analyseCurve(bytes) : analyseTrace(readCapture(bytes, { ...options, isLookedAtOnce: true }), options);
}

/** Figures and separators are ASCII; a letter of another alphabet in a comment may come out as it likes. Piece by piece: a call takes so many. */
function textOf(bytes: Uint8Array): string {
  const pieces: string[] = [];
  for (let from = 0; from < bytes.length; from += PIECE) pieces.push(String.fromCharCode(...bytes.subarray(from, from + PIECE)));
  return pieces.join('');
}

/** A table of frequencies and decibels, in the place of a sweep. */
export function analyseCurve(bytes: Uint8Array): TraceAnalysis {
  if (bytes.length > MAX_CURVE_BYTES) {
    const message = 'This table is longer than any response: a line for each of some hundred frequencies is enough.';
    throw new CoreError('INPUT_INVALID', [{ pointer: '', message }]);
  }
  const { frequenciesHz, levelDb, faults } = readCurve(textOf(bytes));
  if (faults.length > 0) throw new CoreError('INPUT_INVALID', faults.slice(0, MAX_FAULTS));
  return {
    sampleRateHz: 0,
    between: [],
    channels: [
      {
        name: 'curve',
        samples: 0,
        voltageRms: 0,
        voltageRmsWithDc: 0,
        peakPositiveVolt: 0,
        peakNegativeVolt: 0,
        crestFactor: 0,
        dcOffsetVolt: 0,
        harmonics: [],
        clipping: { verdict: 'curve', positiveFlatFraction: 0, negativeFlatFraction: 0 },
        warnings: ['uncalibrated'],
        curve: frequenciesHz.map((hertz, k) => ({ hertz, db: levelDb[k]! })),
      },
    ],
  };
}
