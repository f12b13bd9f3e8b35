/** Sum of cos(m θ) over count values of m, spaced by one and centred on 0. */
export function dirichlet(theta: number, count: number): number {
  const half = Math.sin(theta / 2);
  return Math.abs(half) < 1e-12 ? count : Math.sin((count * theta) / 2) / half;
}
