import fc from 'fast-check';
import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { isSameData } from './sameData.ts';

const ROOT = path.resolve(import.meta.dirname, '../../..');

/** The same data with its fields in another order, as a store may hand it back. */
function turned(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(turned);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .map(([key, each]) => [key, turned(each)] as const)
      .toReversed(),
  );
}

describe('plain data', () => {
  it('is the same in any order of its fields, and another one once a figure moves', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (value) => {
        expect(isSameData(value, turned(value))).toBe(true);
        expect(isSameData(value, { value })).toBe(false);
      }),
    );
  });

  it('takes a field that is undefined for none', () => {
    expect(isSameData({ hertz: 50, q: undefined }, { hertz: 50 })).toBe(true);
    expect(isSameData([1, 2], [2, 1])).toBe(false);
  });

  it('is nowhere compared by its text, which tells two orders of fields apart', () => {
    const sources = ['apps', 'packages'].flatMap((folder) =>
      readdirSync(path.join(ROOT, folder), { recursive: true })
        .map((file) => path.join(folder, String(file)))
        .filter((file) => /\/src\/.*\.tsx?$/.test(file) && !/node_modules|\.(test|fixture)\./.test(file)),
    );
    const byText = sources.filter((file) =>
      /JSON\.stringify\([^\n]*\)\s*[!=]==\s*JSON\.stringify\(/.test(readFileSync(path.join(ROOT, file), 'utf8')),
    );
    expect(sources.length).toBeGreaterThan(400);
    expect(byText).toEqual([]);
  });
});
