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

/** What makes one chain of another: things with ids are followed by their id, whatever their place. */
export const changesBetween = (before: Chain, after: Chain): ChainChange[] => differences(before, after, []);

/** What takes the same changes back. */
export const inverseOf = (changes: readonly ChainChange[]): ChainChange[] =>
  [...changes].reverse().map(({ path, before, after, at }) => ({
    path,
    ...(after === undefined ? {} : { before: after }),
    ...(before === undefined ? {} : { after: before }),
    ...(at === undefined ? {} : { at }),
  }));

/** A chain with changes that were made on another one: whatever they do not touch stays. A change whose place is gone is left out. */
export const withChanges = (chain: Chain, changes: readonly ChainChange[]): Chain =>
  // Changes come from chains and go into one; the door refuses what they break between them.
  changes.reduce<unknown>((now, change) => applied(now, change, 0), chain) as Chain;

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
  if (JSON.stringify(before) === JSON.stringify(after)) return [];
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
  if (!isLast) return step in node ? { ...node, [step]: applied(node[step], change, depth + 1) } : node;
  const { [step]: _before, ...rest } = node;
  return change.after === undefined ? rest : { ...node, [step]: change.after };
}
