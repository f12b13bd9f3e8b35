/** Two polynomials multiplied, coefficients from the constant up. */
export function product(a: readonly number[], b: readonly number[]): number[] {
  const result = new Array<number>(a.length + b.length - 1).fill(0);
  a.forEach((x, i) => b.forEach((y, j) => (result[i + j]! += x * y)));
  return result;
}

/** A polynomial with real coefficients at s = jω. */
export function valueAt(polynomial: readonly number[], omega: number): { re: number; im: number } {
  let re = 0;
  let im = 0;
  for (let k = polynomial.length - 1; k >= 0; k -= 1) {
    const turned = re * omega;
    re = polynomial[k]! - im * omega;
    im = turned;
  }
  return { re, im };
}
