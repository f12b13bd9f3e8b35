/**
 * Whether two pieces of plain data say the same, whatever the order of their fields: a store may hand an object back in
 * another order than it was given in, so text made of it tells nothing. A field that is undefined is as good as none.
 *
 * @example
 * isSameData({ hertz: 50, q: 1 }, { q: 1, hertz: 50 }); // → true
 */
export function isSameData(a: unknown, b: unknown): boolean {
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((item, i) => isSameData(item, b[i]));
  if (!isPlain(a) || !isPlain(b)) return Object.is(a, b);
  const keys = new Set([...Object.keys(a), ...Object.keys(b)]);
  return [...keys].every((key) => isSameData(a[key], b[key]));
}

const isPlain = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null && !Array.isArray(value);
