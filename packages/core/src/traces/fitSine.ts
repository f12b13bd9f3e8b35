import { RESYNC_SAMPLES } from '../numerics/rotation.ts';
import { solveLinear } from '../numerics/solveLinear.ts';
import type { Samples } from '../numerics/samples.ts';

/** x(t) = offset + amplitude cos(2π f t + phase), t = 0 at the first sample of the whole record. */
export interface SineFit {
  frequencyHz: number;
  amplitude: number;
  phaseRad: number;
  offset: number;
}

const MAX_ITERATIONS = 12;

/** Phase error over the whole record, in radians, below which a step no longer matters: the next one would be near its square. */
const SETTLED_RAD = 1e-5;

/**
 * Least-squares sine fit with four parameters: amplitude, phase, offset and frequency.
 *
 * @param samples - evenly sampled; the first `count` of them are used, at least four
 * @param start - a frequency within half a cycle over the record of the true one, or a fit to a shorter stretch of the same record
 * @param stride - only every n-th sample is looked at
 * @returns null where the fit does not settle (no tone near the start frequency)
 * @see IEEE Std 1057-2017, annex on four-parameter sine fits: Gauss-Newton, here with the time axis centred for conditioning
 */
export function fitSine(
  samples: Samples,
  sampleRateHz: number,
  start: number | SineFit,
  available = samples.length,
  stride = 1,
): SineFit | null {
  const count = Math.floor((available - 1) / stride) + 1;
  const startOmega = (2 * Math.PI * stride * (typeof start === 'number' ? start : start.frequencyHz)) / sampleRateHz;
  let omega = startOmega;
  let solution =
    typeof start === 'number' ? normalSolution(samples, count, stride, omega, 0, 0, false) : seenFromMiddle(start, omega, count);
  for (let i = 0; i < MAX_ITERATIONS && solution !== null; i += 1) {
    const [a, b] = solution;
    solution = normalSolution(samples, count, stride, omega, a, b, true);
    if (solution === null) return null;
    const step = solution[3] / count;
    omega += step;
    if (!(omega > 0 && omega < Math.PI * stride) || Math.abs(omega - startOmega) * count > 4 * Math.PI) return null;
    if (Math.abs(step) * count < SETTLED_RAD) break;
  }
  if (solution === null) return null;
  const [a, b, offset] = solution;
  return {
    frequencyHz: (omega * sampleRateHz) / (2 * Math.PI * stride),
    amplitude: Math.hypot(a, b),
    phaseRad: wrapRad(Math.atan2(-b, a) - (omega * (count - 1)) / 2),
    offset,
  };
}

/** A fit's cosine and sine parts, with time counted from the middle of so many samples. */
function seenFromMiddle({ amplitude, phaseRad, offset }: SineFit, omega: number, count: number): Solution {
  const phase = phaseRad + (omega * (count - 1)) / 2;
  return [amplitude * Math.cos(phase), -amplitude * Math.sin(phase), offset, 0];
}

/** [a, b, c, frequency step × count] of a cos + b sin + c, time counted from the middle of the record */
type Solution = [number, number, number, number];

/**
 * Best a cos + b sin + c at a known frequency (three parameters), or with a step in frequency as well (four).
 */
function normalSolution(
  samples: Samples,
  count: number,
  stride: number,
  omega: number,
  a: number,
  b: number,
  withFrequency: boolean,
): Solution | null {
  const centre = (count - 1) / 2;
  const stepCos = Math.cos(omega);
  const stepSin = Math.sin(omega);
  let cc = 0,
    cs = 0,
    sc = 0,
    ss = 0,
    cd = 0,
    sd = 0,
    sumD = 0,
    dd = 0,
    cx = 0,
    sx = 0,
    sumX = 0,
    dx = 0;
  for (let block = 0; block < count; block += RESYNC_SAMPLES) {
    const blockEnd = Math.min(count, block + RESYNC_SAMPLES);
    let c = Math.cos(omega * (block - centre));
    let s = Math.sin(omega * (block - centre));
    if (withFrequency) {
      for (let n = block; n < blockEnd; n += 1) {
        const x = samples[n * stride] as number;
        const d = ((n - centre) / count) * (b * c - a * s);
        cc += c * c;
        cs += c * s;
        sc += c;
        ss += s;
        cd += c * d;
        sd += s * d;
        sumD += d;
        dd += d * d;
        cx += c * x;
        sx += s * x;
        sumX += x;
        dx += d * x;
        const turned = c * stepCos - s * stepSin;
        s = s * stepCos + c * stepSin;
        c = turned;
      }
    } else {
      for (let n = block; n < blockEnd; n += 1) {
        const x = samples[n * stride] as number;
        cc += c * c;
        cs += c * s;
        sc += c;
        ss += s;
        cx += c * x;
        sx += s * x;
        sumX += x;
        const turned = c * stepCos - s * stepSin;
        s = s * stepCos + c * stepSin;
        c = turned;
      }
    }
  }
  const sinSquared = count - cc;
  if (!withFrequency) {
    const three = solveLinear(
      [
        [cc, cs, sc],
        [cs, sinSquared, ss],
        [sc, ss, count],
      ],
      [cx, sx, sumX],
    );
    return three === null ? null : [three[0]!, three[1]!, three[2]!, 0];
  }
  const four = solveLinear(
    [
      [cc, cs, sc, cd],
      [cs, sinSquared, ss, sd],
      [sc, ss, count, sumD],
      [cd, sd, sumD, dd],
    ],
    [cx, sx, sumX, dx],
  );
  return four === null || !four.every(Number.isFinite) ? null : [four[0]!, four[1]!, four[2]!, four[3]!];
}

/** An angle in (−π, π]. */
export function wrapRad(angle: number): number {
  const turns = angle / (2 * Math.PI);
  const wrapped = (turns - Math.floor(turns)) * 2 * Math.PI;
  return wrapped > Math.PI ? wrapped - 2 * Math.PI : wrapped;
}
