import MiniSearch from 'minisearch';

/** One thing that can be found: it leads somewhere, or does something. */
export type Found = { id: string; kind: string; title: string; words: string; rank?: number } & ({ to: string } | { run: () => void });

const MOST = 9;

/** @returns what fits a text best, best first; for none what is at hand */
export function finderOf(items: readonly Found[]): (text: string) => Found[] {
  const index = new MiniSearch<Found>({
    fields: ['title', 'kind', 'words'],
    searchOptions: { prefix: true, fuzzy: 0.2, combineWith: 'AND', boost: { title: 4, kind: 2 } },
    // A figure is one word: "11.2 V" is found by "11.2".
    tokenize: (text) => text.split(/[\s\u00a0\u202f,;:()“”"/]+/).filter((word) => word !== ''),
  });
  index.addAll(items.map((item) => ({ ...item })));
  const byId = new Map(items.map((item) => [item.id, item]));
  return (text) => {
    if (text.trim() === '')
      return [...items]
        .filter(({ rank }) => rank !== undefined)
        .sort((a, b) => a.rank! - b.rank!)
        .slice(0, MOST);
    return index
      .search(text)
      .slice(0, MOST)
      .map(({ id }) => byId.get(String(id))!);
  };
}
