import type { SineFit } from './fitSine.ts';
import { solveLinear } from '../numerics/solveLinear.ts';
import type { Samples } from '../numerics/samples.ts';

export interface Flattening {
  /** true where the crest of that half-wave is flat, not rounded like a sine's */
  positiveFlat: boolean;
  negativeFlat: boolean;
  /** share of the half-cycle that lies on the flat, 0 where there is none */
  positiveFlatFraction: number;
  negativeFlatFraction: number;
  /** how far a sine through the flanks would rise above the flat, where there is one */
  overdriveDb?: number;
}

interface Folded {
  /** angle from the positive crest of the fundamental, −π … π */
  angle: Float64Array;
  value: Float64Array;
}

/** A long record is looked at in this many stretches of this many samples, spread over it. */
const STRETCHES = 8;
const STRETCH_SAMPLES = 4096;
/** More samples a cycle than this tell no more of its shape: of a finer record every n-th sample is taken. */
const ENOUGH_A_CYCLE = 512;
/** Half-widths in radians around the crest in which its curvature is looked at, wide to narrow. */
const CREST_HALF_WIDTHS = [0.3, 0.2, 0.12];
/** A sine's crest has curvature 1. A third harmonic of 3 % that rounds the crest leaves 0.73; a crest that touches a rail has about 0. */
const FLAT_CURVATURE = 0.6;

/**
 * Looks for flattened tops and bottoms: is the crest of the folded cycle flat, how wide, and how high would it have gone?
 *
 * The criterion is the crest's own curvature against that of a sine of the same height, so that a large harmonic elsewhere
 * (crossover distortion, a second harmonic) does not count as clipping. Own method; checked against synthetic waves.
 *
 * @param quantum - step between two neighbouring values of the recorder (0 where it is not seen)
 * @param noiseRms - what harmonics do not explain
 */
export function findFlattening(samples: Samples, sampleRateHz: number, fit: SineFit, quantum: number, noiseRms: number): Flattening {
  const folded = fold(samples, sampleRateHz, fit);
  // Below three steps of the recorder's own staircase any crest looks flat.
  const narrowest = Math.min(0.6, Math.sqrt((6 * quantum) / fit.amplitude));
  const widths = CREST_HALF_WIDTHS.filter((width) => width >= narrowest);
  const usable = widths.length > 0 ? widths : [narrowest];
  const top = crest(folded, fit, 1, usable, quantum, noiseRms);
  const bottom = crest(folded, fit, -1, usable, quantum, noiseRms);
  const overdriveDb = top.flat || bottom.flat ? overdrive(folded, top, bottom) : null;
  return {
    positiveFlat: top.flat,
    negativeFlat: bottom.flat,
    positiveFlatFraction: top.fraction,
    negativeFlatFraction: bottom.fraction,
    ...(overdriveDb === null ? {} : { overdriveDb }),
  };
}

/** Samples with their angle in the cycle; of a long record, stretches spread over it. */
function fold(samples: Samples, sampleRateHz: number, fit: SineFit): Folded {
  const turnsPerSample = fit.frequencyHz / sampleRateHz;
  const phaseTurns = fit.phaseRad / (2 * Math.PI);
  const stride = Math.max(1, Math.floor(1 / (turnsPerSample * ENOUGH_A_CYCLE)));
  const available = Math.floor((samples.length - 1) / stride) + 1;
  const whole = available <= STRETCHES * STRETCH_SAMPLES;
  const stretches = whole ? 1 : STRETCHES;
  const length = whole ? available : STRETCH_SAMPLES;
  const angle = new Float64Array(stretches * length);
  const value = new Float64Array(stretches * length);
  for (let stretch = 0, out = 0; stretch < stretches; stretch += 1) {
    const first = whole ? 0 : Math.floor((stretch * (available - length)) / (stretches - 1));
    for (let i = 0; i < length; i += 1, out += 1) {
      const n = (first + i) * stride;
      const turns = n * turnsPerSample + phaseTurns;
      angle[out] = (turns - Math.round(turns)) * 2 * Math.PI;
      value[out] = samples[n] as number;
    }
  }
  return { angle, value };
}

interface Crest {
  flat: boolean;
  fraction: number;
  /** height of the crest's middle */
  level: number;
}

function crest(folded: Folded, fit: SineFit, sign: 1 | -1, widths: readonly number[], quantum: number, noiseRms: number): Crest {
  const parabolas = widths.map((width) => crestParabola(folded, sign, width)).filter((p) => p !== null);
  const narrowest = parabolas.at(-1);
  if (narrowest === undefined) return { flat: false, fraction: 0, level: sign * fit.amplitude + fit.offset };
  const flat = parabolas.some((p) => {
    const curvature = (-2 * sign * p.quadratic) / fit.amplitude;
    return curvature + (4 * p.quadraticError) / fit.amplitude < FLAT_CURVATURE;
  });
  return { flat, fraction: flat ? flatFraction(folded, fit, sign, narrowest, quantum, noiseRms) : 0, level: narrowest.level };
}

interface Parabola {
  level: number;
  slope: number;
  quadratic: number;
  /** standard error of `quadratic` */
  quadraticError: number;
}

/** Least-squares parabola through the samples around a crest; null with too few of them. */
function crestParabola({ angle, value }: Folded, sign: 1 | -1, width: number): Parabola | null {
  let n = 0,
    t1 = 0,
    t2 = 0,
    t3 = 0,
    t4 = 0,
    y0 = 0,
    y1 = 0,
    y2 = 0,
    yy = 0;
  for (let i = 0; i < angle.length; i += 1) {
    const t = fromCrest(angle[i] as number, sign);
    if (t < -width || t > width) continue;
    const y = value[i] as number;
    const tt = t * t;
    n += 1;
    t1 += t;
    t2 += tt;
    t3 += tt * t;
    t4 += tt * tt;
    y0 += y;
    y1 += y * t;
    y2 += y * tt;
    yy += y * y;
  }
  if (n < 8) return null;
  const matrix = (): number[][] => [
    [n, t1, t2],
    [t1, t2, t3],
    [t2, t3, t4],
  ];
  const solution = solveLinear(matrix(), [y0, y1, y2]);
  const inverseColumn = solveLinear(matrix(), [0, 0, 1]);
  if (solution === null || inverseColumn === null) return null;
  const [level, slope, quadratic] = solution as [number, number, number];
  const residual = Math.max(0, yy - level * y0 - slope * y1 - quadratic * y2) / Math.max(1, n - 3);
  return { level, slope, quadratic, quadraticError: Math.sqrt(residual * Math.max(0, inverseColumn[2]!)) };
}

const fromCrest = (angle: number, sign: 1 | -1): number => (sign === 1 ? angle : angle > 0 ? angle - Math.PI : angle + Math.PI);

/** Share of the half-cycle that stays on the line through the middle of the crest. A tilted top (a coupling capacitor) is still flat. */
function flatFraction(
  { angle, value }: Folded,
  fit: SineFit,
  sign: 1 | -1,
  { level, slope }: Parabola,
  quantum: number,
  noiseRms: number,
): number {
  const bins = 64;
  const sums = new Float64Array(bins);
  const counts = new Float64Array(bins);
  for (let i = 0; i < angle.length; i += 1) {
    const t = fromCrest(angle[i] as number, sign);
    const bin = Math.floor((t / Math.PI + 0.5) * bins);
    if (bin < 0 || bin >= bins) continue;
    sums[bin]! += (value[i] as number) - (level + slope * t);
    counts[bin]! += 1;
  }
  const onLine = (bin: number): boolean => {
    const count = counts[bin] ?? 0;
    if (count === 0) return true; // no sample fell here: the neighbours decide
    return Math.abs((sums[bin] ?? 0) / count) < Math.max(0.006 * fit.amplitude, (3 * noiseRms) / Math.sqrt(count), 0.75 * quantum);
  };
  let width = 0;
  for (let bin = bins / 2; bin < bins && onLine(bin); bin += 1) width += 1;
  for (let bin = bins / 2 - 1; bin >= 0 && onLine(bin); bin -= 1) width += 1;
  return width / bins;
}

/** Fits a sine with its own offset to the flanks, below 70 % of the flats, and holds the flats against it. */
function overdrive({ angle, value }: Folded, top: Crest, bottom: Crest): number | null {
  const middle = (top.level + bottom.level) / 2;
  const high = middle + 0.7 * (top.level - middle);
  const low = middle + 0.7 * (bottom.level - middle);
  let n = 0,
    c1 = 0,
    s1 = 0,
    cc = 0,
    cs = 0,
    ss = 0,
    y0 = 0,
    yc = 0,
    ys = 0;
  for (let i = 0; i < angle.length; i += 1) {
    const y = value[i] as number;
    if (y > high || y < low) continue;
    const c = Math.cos(angle[i] as number);
    const s = Math.sin(angle[i] as number);
    n += 1;
    c1 += c;
    s1 += s;
    cc += c * c;
    cs += c * s;
    ss += s * s;
    y0 += y;
    yc += y * c;
    ys += y * s;
  }
  const solution =
    n < 8
      ? null
      : solveLinear(
          [
            [n, c1, s1],
            [c1, cc, cs],
            [s1, cs, ss],
          ],
          [y0, yc, ys],
        );
  if (solution === null) return null;
  const [offset, a, b] = solution as [number, number, number];
  const amplitude = Math.hypot(a, b);
  const heights = [top.flat ? top.level - offset : null, bottom.flat ? offset - bottom.level : null].filter(
    (h) => h !== null && h > 0,
  ) as number[];
  if (heights.length === 0) return null;
  const db = 20 * Math.log10(amplitude / Math.min(...heights));
  return Number.isFinite(db) ? Math.max(0, db) : null;
}
