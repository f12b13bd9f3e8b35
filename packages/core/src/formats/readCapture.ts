import { captureError } from '../coreError.ts';
import type { Arrival } from './arrival.ts';
import type { Capture } from './capture.ts';
import { captureOfRows, readCsvRows, type CsvRows, type FilePart } from './csv.ts';
import { readWav } from './wav.ts';

export interface ReadCaptureOptions {
  /** factor on every voltage, such as 10 for a ten-to-one probe */
  probe?: number;
  /** peak voltage of digital full scale (WAV), or of the recorder's rails (CSV) */
  fullScaleVolt?: number;
}

export interface HowToRead extends ReadCaptureOptions {
  /** the channels of a recording are decoded when they are asked for, into the same memory: samples hold until another channel is asked for */
  isLookedAtOnce?: boolean;
}

const SIGNATURES: readonly { bytes: readonly number[]; what: string }[] = [
  { bytes: [0x89, 0x50, 0x4e, 0x47], what: 'a picture (PNG)' },
  { bytes: [0xff, 0xd8, 0xff], what: 'a picture (JPEG)' },
  { bytes: [0x47, 0x49, 0x46, 0x38], what: 'a picture (GIF)' },
  { bytes: [0x42, 0x4d], what: 'a picture (BMP)' },
  { bytes: [0x25, 0x50, 0x44, 0x46], what: 'a PDF document' },
  { bytes: [0x50, 0x4b, 0x03, 0x04], what: 'a ZIP archive or spreadsheet' },
  { bytes: [0x1f, 0x8b], what: 'a compressed archive' },
];

/**
 * Reads a capture, telling CSV from WAV by the content, not by the file's name.
 *
 * @throws {CoreError} `CAPTURE_*` with the line or the field that cannot be read
 */
export function readCapture(bytes: Uint8Array, options: HowToRead = {}): Capture {
  const kind = kindOf(bytes);
  const { probe = 1 } = options;
  if (kind === 'wav') return readWav(bytes, { ...options, probe });
  return captureFromRows([readCsvRows(kind === 'wide text' ? narrowUtf16(bytes) : bytes, probe)], options);
}

/**
 * Reads some of a capture's rows; all of them make a capture by {@link captureFromRows}.
 *
 * @param arrival - where the file is still coming in; its head is there
 * @returns null for a file that is read as a whole
 * @throws {CoreError} as {@link readCapture} does, though rows are counted from the part's own first
 */
export function readCaptureRows(bytes: Uint8Array, { probe = 1 }: ReadCaptureOptions, part: FilePart, arrival?: Arrival): CsvRows | null {
  return kindOf(bytes) === 'text' ? readCsvRows(bytes, probe, part, arrival) : null;
}

/**
 * A capture of all its rows.
 *
 * @param channels - from and to before which of them, where threads share them; only the first one's thread looks whether time runs evenly
 * @throws {CoreError} `CAPTURE_*` for a time base that cannot be
 */
export function captureFromRows(
  parts: readonly CsvRows[],
  { fullScaleVolt }: ReadCaptureOptions,
  channels?: readonly [number, number],
): Capture {
  const capture = captureOfRows(parts, channels);
  return fullScaleVolt === undefined ? capture : { ...capture, railVolt: fullScaleVolt };
}

/** @throws {CoreError} `CAPTURE_*` for a file of another kind */
function kindOf(bytes: Uint8Array): 'wav' | 'text' | 'wide text' {
  if (bytes.length === 0) throw captureError('CAPTURE_EMPTY', 'The file is empty. Save the capture again on the scope, then drop it here.');
  const signature = SIGNATURES.find(
    (s) => s.bytes.every((byte, i) => bytes[i] === byte) && !(s.what.includes('BMP') && looksLikeText(bytes)),
  );
  if (signature !== undefined) {
    throw captureError('CAPTURE_NOT_TEXT', `This file is ${signature.what}, whatever its name says. Save the capture as CSV or WAV.`);
  }
  if (startsWith(bytes, 'RIFF')) return 'wav';
  if (startsWith(bytes, 'RF64') || startsWith(bytes, 'fLaC') || startsWith(bytes, 'OggS') || startsWith(bytes, 'ID3')) {
    throw captureError(
      'CAPTURE_FORMAT_UNKNOWN',
      'This kind of sound file is not read. Save the capture as plain WAV (16 or 24 bit, or 32-bit float).',
    );
  }
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'wide text';
  if (looksLikeText(bytes)) return 'text';
  throw captureError('CAPTURE_NOT_TEXT', 'This file does not hold text. Save the capture as CSV or WAV.');
}

function startsWith(bytes: Uint8Array, text: string): boolean {
  return Array.from(text).every((char, i) => bytes[i] === char.charCodeAt(0));
}

function looksLikeText(bytes: Uint8Array): boolean {
  const head = bytes.subarray(0, 4096);
  return head.every((byte) => byte >= 0x20 || byte === 0x09 || byte === 0x0a || byte === 0x0d);
}

/** Some bench software writes CSV in UTF-16; the figures are plain ASCII in it. */
function narrowUtf16(bytes: Uint8Array): Uint8Array {
  const narrow = new Uint8Array((bytes.length - 2) >> 1);
  for (let i = 0; i < narrow.length; i += 1) narrow[i] = bytes[i + i + 3] === 0 ? (bytes[i + i + 2] ?? 0x3f) : 0x3f;
  return narrow;
}
