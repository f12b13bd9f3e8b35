import FFT from 'fft.js';
import { checkNumbers, CoreError } from '../coreError.ts';
import { voltageFactor } from '../levels/decibels.ts';
import { seededRandom } from '../numerics/random.ts';
import { powerOfTwoAtLeast } from '../numerics/spectrum.ts';
import { fixed } from '../units/formatQuantity.ts';

export type ToneShape =
  | { kind: 'sine'; hertz: number }
  /** logarithmic: the same time for every octave */
  | { kind: 'sweep'; fromHertz: number; toHertz: number }
  /** −3 dB per octave over 20 Hz to 20 kHz, the same for the same seed */
  | { kind: 'pink-noise'; seed: string }
  /** one-sided bumps, so that a capture shows which way the driver moves first */
  | { kind: 'polarity-pulse' };

export interface ToneSpec {
  shape: ToneShape;
  /** 0 is a full-scale sine; noise by its RMS against that sine's, a pulse by its peak */
  levelDbfs: number;
  seconds: number;
  /** 44.1 or 48 kHz for files; whatever a capture has, to compare with it */
  sampleRateHz: number;
  /** raised-cosine fade at both ends, so that nothing clicks */
  fadeSecond?: number;
}

const PINK_BAND_HZ = { from: 20, to: 20_000 };
const PULSE_SECOND = 0.005;
const PULSE_EVERY_SECOND = 0.5;

/**
 * A test tone, sample by sample.
 *
 * @returns samples as shares of full scale, never beyond −1 … 1
 * @throws {CoreError} `INPUT_INVALID` for a level, frequency or length out of bounds, or noise so loud that its peaks would clip
 */
export function toneSamples(spec: ToneSpec): Float64Array {
  check(spec);
  const { shape, levelDbfs, seconds, sampleRateHz, fadeSecond = 0 } = spec;
  const count = Math.round(seconds * sampleRateHz);
  const samples = shapeSamples(shape, count, sampleRateHz);
  const factor = voltageFactor(levelDbfs);
  let peak = 0;
  for (let n = 0; n < count; n += 1) {
    samples[n]! *= factor;
    peak = Math.max(peak, Math.abs(samples[n]!));
  }
  if (peak > 1 + 1e-12) {
    throw fault('/levelDbfs', `at this level the peaks clip: ${fixed(levelDbfs - 20 * Math.log10(peak) - 0.05, 1)} dBFS is the most`);
  }
  fade(samples, Math.min(Math.floor(count / 2), Math.round(fadeSecond * sampleRateHz)));
  return samples;
}

function shapeSamples(shape: ToneShape, count: number, rateHz: number): Float64Array {
  switch (shape.kind) {
    case 'sine':
      return made(count, (n) => Math.sin((2 * Math.PI * shape.hertz * n) / rateHz));
    case 'sweep':
      return sweep(shape.fromHertz, shape.toHertz, count, rateHz);
    case 'pink-noise':
      return pinkNoise(shape.seed, count, rateHz);
    case 'polarity-pulse':
      return made(count, (n) => {
        const since = (n / rateHz) % PULSE_EVERY_SECOND;
        return since < PULSE_SECOND ? 0.5 - 0.5 * Math.cos((2 * Math.PI * since) / PULSE_SECOND) : 0;
      });
  }
}

/** Far faster than `Float64Array.from`, which matters over minutes of sound. */
function made(count: number, sampleAt: (n: number) => number): Float64Array {
  const samples = new Float64Array(count);
  for (let n = 0; n < count; n += 1) samples[n] = sampleAt(n);
  return samples;
}

/** @see A. Farina, "Simultaneous measurement of impulse response and distortion with a swept-sine technique", AES 108 (2000) */
function sweep(fromHz: number, toHz: number, count: number, rateHz: number): Float64Array {
  const seconds = count / rateHz;
  const octaves = Math.log(toHz / fromHz);
  const scale = (2 * Math.PI * fromHz * seconds) / octaves;
  return made(count, (n) => Math.sin(scale * (Math.exp(((n / rateHz) * octaves) / seconds) - 1)));
}

/** Made in the spectrum: amplitude falls as the root of frequency, phases at random. RMS of a full-scale sine. */
function pinkNoise(seed: string, count: number, rateHz: number): Float64Array {
  const size = powerOfTwoAtLeast(count);
  const random = seededRandom(seed);
  const spectrum = new Array<number>(2 * size).fill(0);
  for (let k = 1; k < size / 2; k += 1) {
    const hz = (k * rateHz) / size;
    const phase = 2 * Math.PI * random.uniform();
    if (hz < PINK_BAND_HZ.from || hz > PINK_BAND_HZ.to) continue;
    const amplitude = 1 / Math.sqrt(hz);
    spectrum[2 * k] = amplitude * Math.cos(phase);
    spectrum[2 * k + 1] = amplitude * Math.sin(phase);
    // A real signal has the mirrored half conjugate.
    spectrum[2 * (size - k)] = spectrum[2 * k]!;
    spectrum[2 * (size - k) + 1] = -spectrum[2 * k + 1]!;
  }
  const fft = new FFT(size);
  const output = fft.createComplexArray();
  fft.inverseTransform(output, spectrum);
  let square = 0;
  for (let n = 0; n < count; n += 1) square += output[2 * n]! ** 2;
  const factor = Math.SQRT1_2 / Math.sqrt(square / count);
  return made(count, (n) => output[2 * n]! * factor);
}

function fade(samples: Float64Array, length: number): void {
  for (let n = 0; n < length; n += 1) {
    const gain = 0.5 - 0.5 * Math.cos((Math.PI * (n + 0.5)) / length);
    samples[n]! *= gain;
    samples[samples.length - 1 - n]! *= gain;
  }
}

const MAX_SECONDS = 600;

function check({ shape, levelDbfs, seconds, sampleRateHz, fadeSecond }: ToneSpec): void {
  checkNumbers(
    { levelDbfs, seconds, sampleRateHz, fadeSecond },
    {
      levelDbfs: { name: 'level', unit: 'dBFS', atLeast: -120, atMost: 0 },
      seconds: { name: 'length', unit: 's', above: 0, atMost: MAX_SECONDS },
      sampleRateHz: { name: 'sample rate', unit: 'Hz', atLeast: 8000, atMost: 384_000 },
      fadeSecond: { name: 'fade', unit: 's', atLeast: 0 },
    },
  );
  const highest = 0.475 * sampleRateHz;
  const frequencies =
    shape.kind === 'sine' ? { hertz: shape.hertz } : shape.kind === 'sweep' ? { fromHertz: shape.fromHertz, toHertz: shape.toHertz } : {};
  for (const [field, hz] of Object.entries(frequencies)) {
    if (!(hz >= 1 && hz <= highest))
      throw fault(`/shape/${field}`, `frequency must be between 1 Hz and ${Math.round(highest)} Hz at this sample rate`);
  }
  if (shape.kind === 'sweep' && shape.toHertz <= shape.fromHertz) throw fault('/shape/toHertz', 'a sweep must end above where it begins');
}

const fault = (pointer: string, message: string): CoreError => new CoreError('INPUT_INVALID', [{ pointer, message }]);
