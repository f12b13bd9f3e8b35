import { solveLinear } from './solveLinear.ts';

/** What is to be made small: residuals and their derivatives at a place. */
export interface LeastSquaresProblem {
  /** lowest and highest value of each unknown */
  bounds: readonly (readonly [low: number, high: number])[];
  /**
   * @param withSlopes - whether the derivatives are wanted too
   * @returns one residual a row; `slopes[k]` holds the derivatives of all residuals after unknown k
   */
  at(unknowns: Float64Array, withSlopes: boolean): { residuals: Float64Array; slopes: Float64Array[] };
}

const MAX_DAMPING = 1e9;

/**
 * Least squares within bounds, by damped Gauss-Newton steps; an unknown at a bound that it pushes against is held there.
 *
 * @param start - one value for each unknown, brought within the bounds
 * @param steps - most steps taken
 * @returns the place and the sum of the squared residuals there; a local minimum
 * @see D. Marquardt, "An Algorithm for Least-Squares Estimation of Nonlinear Parameters", J. SIAM 11 (1963)
 */
export function leastSquares(
  { bounds, at }: LeastSquaresProblem,
  start: ArrayLike<number>,
  steps: number,
): { unknowns: Float64Array; cost: number } {
  const inside = (values: ArrayLike<number>): Float64Array =>
    Float64Array.from(bounds, ([low, high], k) => Math.max(low, Math.min(high, values[k]!)));
  let unknowns = inside(start);
  let here = at(unknowns, true);
  let cost = squared(here.residuals);
  let damping = 1e-2;
  for (let step = 0; step < steps && damping < MAX_DAMPING; step += 1) {
    const down = here.slopes.map((slope, k) => (bounds[k]![0] === bounds[k]![1] ? 0 : -product(slope, here.residuals)));
    const free = down.flatMap((push, k) =>
      bounds[k]![0] === bounds[k]![1] || (push < 0 && unknowns[k]! <= bounds[k]![0]) || (push > 0 && unknowns[k]! >= bounds[k]![1])
        ? []
        : [k],
    );
    if (free.length === 0) break;
    const normal = free.map(() => new Array<number>(free.length).fill(0));
    free.forEach((i, row) => {
      for (let col = 0; col <= row; col += 1) normal[row]![col] = normal[col]![row] = product(here.slopes[i]!, here.slopes[free[col]!]!);
    });
    let isBetter = false;
    while (!isBetter && damping < MAX_DAMPING) {
      const damped = normal.map((row, i) => row.map((value, j) => (i === j ? value * (1 + damping) + 1e-12 : value)));
      const move = solveLinear(
        damped,
        free.map((k) => down[k]!),
      );
      if (move === null) break;
      const next = Float64Array.from(unknowns);
      free.forEach((k, i) => (next[k]! += move[i]!));
      const moved = inside(next);
      const there = squared(at(moved, false).residuals);
      if (there < cost) {
        isBetter = true;
        damping = Math.max(1e-7, damping / 5);
        const gain = (cost - there) / cost;
        [unknowns, cost] = [moved, there];
        if (gain < 1e-5) return { unknowns, cost };
        here = at(unknowns, true);
      } else damping *= 4;
    }
    if (!isBetter) break;
  }
  return { unknowns, cost };
}

const squared = (values: Float64Array): number => product(values, values);
function product(a: Float64Array, b: Float64Array): number {
  // Four sums at once: most of a fit's time goes here, and none has to wait for the one before.
  let [s0, s1, s2, s3] = [0, 0, 0, 0];
  let i = 0;
  for (const last = a.length - 3; i < last; i += 4) {
    s0 += a[i]! * b[i]!;
    s1 += a[i + 1]! * b[i + 1]!;
    s2 += a[i + 2]! * b[i + 2]!;
    s3 += a[i + 3]! * b[i + 3]!;
  }
  for (; i < a.length; i += 1) s0 += a[i]! * b[i]!;
  return s0 + s1 + s2 + s3;
}
