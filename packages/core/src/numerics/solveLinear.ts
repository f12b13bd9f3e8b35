/**
 * Solves A x = b by Gaussian elimination with partial pivoting.
 *
 * @param a - square matrix, row by row; overwritten
 * @param b - right-hand side; overwritten with the solution
 * @returns the solution, or null where the matrix is singular
 */
export function solveLinear(a: number[][], b: number[]): number[] | null {
  const n = b.length;
  for (let col = 0; col < n; col += 1) {
    let pivot = col;
    for (let row = col + 1; row < n; row += 1) if (Math.abs(a[row]![col]!) > Math.abs(a[pivot]![col]!)) pivot = row;
    if (!(Math.abs(a[pivot]![col]!) > 1e-300)) return null;
    [a[col], a[pivot]] = [a[pivot]!, a[col]!];
    [b[col], b[pivot]] = [b[pivot]!, b[col]!];
    for (let row = col + 1; row < n; row += 1) {
      const factor = a[row]![col]! / a[col]![col]!;
      if (factor === 0) continue;
      for (let k = col; k < n; k += 1) a[row]![k]! -= factor * a[col]![k]!;
      b[row]! -= factor * b[col]!;
    }
  }
  for (let row = n - 1; row >= 0; row -= 1) {
    let sum = b[row]!;
    for (let k = row + 1; k < n; k += 1) sum -= a[row]![k]! * b[k]!;
    b[row] = sum / a[row]![row]!;
  }
  return b;
}
