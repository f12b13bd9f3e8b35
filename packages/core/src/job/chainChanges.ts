import { isSameData } from '../sameData.ts';
import type { Chain } from './chain.ts';

/** One field that was changed, or one thing that was put in or taken out. */
export interface ChainChange {
  /** field names; in a list of things with ids, "#" and the id */
  path: readonly string[];
  /** undefined where there was nothing */
  before?: unknown;
  /** undefined where nothing is left */
  after?: unknown;
  /** place in its list, for what was put in or taken out */
  at?: number;
}

/** What makes one chain, or another record, of another: things with ids are followed by their id, whatever their place. */
export const changesBetween = <T extends object = Chain>(before: T, after: T): ChainChange[] => differences(before, after, []);

/** What takes the same changes back. */
export const inverseOf = (changes: readonly ChainChange[]): ChainChange[] =>
  [...changes].reverse().map(({ path, before, after, at }) => ({
    path,
    ...(after === undefined ? {} : { before: after }),
    ...(before === undefined ? {} : { after: before }),
    ...(at === undefined ? {} : { at }),
  }));

/** A record with changes that were made on another one: whatever they do not touch stays. A change whose place is gone is left out. */
export const withChanges = <T extends object = Chain>(record: T, changes: readonly ChainChange[]): T =>
  // Changes come from such records and go into one; the door refuses what they break between them.
  changes.reduce<unknown>((now, change) => applied(now, change, 0), record) as T;

/**
 * Which changes meet another one: what stands in their place is neither what they found there nor what they would put there,
 * or the place is gone. Where there are none, the changes can be made beside whatever else was changed meanwhile.
 */
export const conflictsOf = (record: object, changes: readonly ChainChange[]): ChainChange[] =>
  changes.filter(({ path, before, after }) => {
    const now = valueAt(record, path);
    if (now === GONE) return after !== undefined;
    return !isSameData(now, before) && !isSameData(now, after);
  });

/** The same changes, made on what stands there now: what they overwrite is known to them. Those whose place is gone are left out. */
export const changesOnto = (record: object, changes: readonly ChainChange[]): ChainChange[] =>
  changes.flatMap(({ before: _former, ...change }) => {
    const now = valueAt(record, change.path);
    return now === GONE ? [] : [{ ...change, ...(now === undefined ? {} : { before: now }) }];
  });

const GONE = Symbol('the place is gone');

/** What stands at a place; undefined where the place is there and empty. */
function valueAt(record: unknown, path: readonly string[]): unknown {
  let node = record;
  for (const [depth, step] of path.entries()) {
    if (step.startsWith('#') && Array.isArray(node)) node = (node as Thing[]).find(({ id }) => id === step.slice(1));
    else if (isPlain(node)) node = Object.hasOwn(node, step) ? node[step] : undefined;
    else return GONE;
    if (node === undefined) return depth === path.length - 1 ? undefined : GONE;
  }
  return node;
}

type Plain = Record<string, unknown>;
type Thing = Plain & { id: string };

const isPlain = (value: unknown): value is Plain => typeof value === 'object' && value !== null && !Array.isArray(value);
const areThings = (value: unknown): value is Thing[] =>
  Array.isArray(value) && value.every((item) => isPlain(item) && typeof item.id === 'string');

function differences(before: unknown, after: unknown, path: readonly string[]): ChainChange[] {
  if (isPlain(before) && isPlain(after)) {
    const keys = new Set([...Object.keys(before), ...Object.keys(after)]);
    return [...keys].flatMap((key) => differences(before[key], after[key], [...path, key]));
  }
  if (areThings(before) && areThings(after) && before.length + after.length > 0) {
    const gone = before.flatMap((item, at): ChainChange[] =>
      after.some(({ id }) => id === item.id) ? [] : [{ path: [...path, `#${item.id}`], before: item, at }],
    );
    const rest = after.flatMap((item, at): ChainChange[] => {
      const own = [...path, `#${item.id}`];
      const was = before.find(({ id }) => id === item.id);
      return was === undefined ? [{ path: own, after: item, at }] : differences(was, item, own);
    });
    return [...gone, ...rest];
  }
  if (isSameData(before, after)) return [];
  return [{ path, ...(before === undefined ? {} : { before }), ...(after === undefined ? {} : { after }) }];
}

function applied(node: unknown, change: ChainChange, depth: number): unknown {
  const step = change.path[depth];
  const isLast = depth === change.path.length - 1;
  if (step === undefined) return node;
  if (step.startsWith('#') && Array.isArray(node)) {
    const id = step.slice(1);
    const items = node as Thing[];
    const at = items.findIndex((item) => item.id === id);
    if (!isLast) return at === -1 ? node : items.map((item, i) => (i === at ? applied(item, change, depth + 1) : item));
    const others = items.filter((item) => item.id !== id);
    if (change.after === undefined) return others;
    others.splice(at === -1 ? Math.min(change.at ?? others.length, others.length) : at, 0, change.after as Thing);
    return others;
  }
  if (!isPlain(node)) return node;
  if (!isLast) return Object.hasOwn(node, step) ? { ...node, [step]: applied(node[step], change, depth + 1) } : node;
  const { [step]: _before, ...rest } = node;
  return change.after === undefined ? rest : { ...node, [step]: change.after };
}
