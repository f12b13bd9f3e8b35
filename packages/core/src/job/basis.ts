/** What ticks stand for: ticks that were made for something else no longer count. */
export interface Basis {
  /** canonical: equal for equal figures, whatever the words */
  key: string;
  /** for people */
  words: string;
}

/** @param figures - plain data; fields in any order, undefined ones as if they were not there */
export const basisOf = (figures: object, words: string): Basis => ({ key: canonical(figures), words });

function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value ?? null);
  const fields = Object.entries(value)
    .filter(([, field]) => field !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return `{${fields.map(([key, field]) => `${JSON.stringify(key)}:${canonical(field)}`).join(',')}}`;
}
