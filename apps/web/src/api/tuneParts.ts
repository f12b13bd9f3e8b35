import type { SavedMark, TuneChanges, TuneDetail, TuneHead } from '@yield/contract';

// Parts of a tune as the server tells them, put into the tune that is held here. What is older than what stands there is left out:
// the answer to an edit and the news of a later one may come in any order.

export type TuneHeadAndSettings = TuneHead & Pick<TuneDetail, 'settings'>;

export function putChain(tune: TuneDetail, chain: TuneDetail['chain']): void {
  if (chain.version >= tune.chain.version) tune.chain = chain;
}

export function putHead(tune: TuneDetail, { name, vehicle, version, updatedAt, settings }: TuneHeadAndSettings): void {
  if (version >= tune.version) Object.assign(tune, { name, vehicle, version, updatedAt, settings });
}

export function putMark(tune: TuneDetail, mark: SavedMark): void {
  const known = tune.marks.find(({ stepId }) => stepId === mark.stepId);
  if (known !== undefined && known.version > mark.version) return;
  tune.marks = [...tune.marks.filter((each) => each !== known), mark];
}

/** What was changed since, put into the tune. */
export function putChanges(tune: TuneDetail, { changes, head, chain, readings = [], traces = [], marks = [] }: TuneChanges): void {
  tune.changes = Math.max(tune.changes, changes);
  if (head !== undefined) putHead(tune, head);
  if (chain !== undefined) putChain(tune, chain);
  tune.readings = inOrder(tune.readings, readings);
  tune.traces = inOrder(tune.traces, traces);
  for (const mark of marks) putMark(tune, mark);
}

/** Known ones replaced, new ones put where their time says: as the server lists them. */
function inOrder<T extends { id: string; takenAt: string }>(known: T[], fresh: readonly T[]): T[] {
  if (fresh.length === 0) return known;
  const byId = new Map(fresh.map((each) => [each.id, each]));
  const kept = known.map((each) => byId.get(each.id) ?? each);
  const added = fresh.filter(({ id }) => !known.some((each) => each.id === id));
  return added.length === 0 ? kept : [...kept, ...added].sort((a, b) => Date.parse(a.takenAt) - Date.parse(b.takenAt));
}
