/** Seeded source of random numbers, so that every simulated run can be repeated. */
export interface Random {
  /** evenly spread over 0 … 1 */
  uniform(): number;
  /** normal, mean 0, standard deviation 1 */
  normal(): number;
}

/**
 * @param seed - any text; the same text gives the same numbers
 * @see mulberry32 (T. Ettinger, public domain); Box-Muller for the normal numbers
 */
export function seededRandom(seed: string): Random {
  let state = 2166136261;
  for (const char of seed) state = Math.imul(state ^ (char.codePointAt(0) ?? 0), 16777619);
  const uniform = (): number => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  return {
    uniform,
    normal: () => Math.sqrt(-2 * Math.log(1 - uniform())) * Math.cos(2 * Math.PI * uniform()),
  };
}
