export interface Difference {
  path: string;
  mine: string;
  theirs: string;
}

const ABSENT = '(nothing)';

/** The leaves in which two records differ, with their path in words: "channels 2 loadOhm". */
export function differences(mine: unknown, theirs: unknown, path: readonly string[] = []): Difference[] {
  if (isNode(mine) && isNode(theirs)) {
    const keys = [...new Set([...Object.keys(mine), ...Object.keys(theirs)])];
    return keys.flatMap((key) => differences(mine[key], theirs[key], [...path, /^\d+$/.test(key) ? String(Number(key) + 1) : key]));
  }
  if (Object.is(mine, theirs)) return [];
  return [{ path: path.join(' '), mine: leaf(mine), theirs: leaf(theirs) }];
}

const isNode = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

function leaf(value: unknown): string {
  if (value === undefined) return ABSENT;
  if (isNode(value)) return typeof value.name === 'string' ? value.name : JSON.stringify(value);
  // Six figures are more than a tuner enters, and the sixteen that a computer keeps of a third are none to read.
  if (typeof value === 'number') return String(Number(value.toPrecision(6)));
  return typeof value === 'string' ? value : JSON.stringify(value);
}
