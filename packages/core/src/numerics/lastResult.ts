/**
 * Keeps the last result for each thing, as long as every part that it was made from is the very same one.
 *
 * Most changes of a tune leave most of it alone: what was worked out from those parts stays.
 *
 * @returns a function of the thing, an id below it, the parts, and how the result is made
 */
export function lastResult<T>(): (of: object, id: string, parts: readonly unknown[], make: () => T) => T {
  const tables = new WeakMap<object, Map<string, { parts: readonly unknown[]; value: T }>>();
  return (of, id, parts, make) => {
    let table = tables.get(of);
    if (table === undefined) {
      table = new Map();
      tables.set(of, table);
    }
    const kept = table.get(id);
    if (kept !== undefined && kept.parts.length === parts.length && kept.parts.every((part, i) => Object.is(part, parts[i])))
      return kept.value;
    const value = make();
    table.set(id, { parts, value });
    return value;
  };
}
