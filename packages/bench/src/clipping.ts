export type Limiting = 'hard' | 'soft';

/** A stage's output where its input would go beyond its rail; both in volts, the rail as a peak. */
export function limited(volt: number, rail: number, limiting: Limiting): number {
  return limiting === 'hard' ? Math.max(-rail, Math.min(rail, volt)) : softClip(volt, rail);
}

/** Straight up to 94 % of the rail, then bending into it. */
function softClip(volt: number, rail: number): number {
  const knee = 0.94 * rail;
  const size = Math.abs(volt);
  if (size <= knee) return volt;
  const room = rail - knee;
  return Math.sign(volt) * (knee + room * Math.tanh((size - knee) / room));
}
