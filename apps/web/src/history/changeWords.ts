import type { ChainChange } from '@yield/core';
import { differences, type Difference } from '../ui/differences.ts';

/** Changes of the record as rows of before and after: each put back into a record of its own two sides. */
export function differencesOfChanges(changes: unknown): Difference[] {
  if (!Array.isArray(changes)) return [];
  return (changes as ChainChange[]).flatMap(({ path, before, after }) => {
    // The headings of the settings say nothing that the field does not.
    const place = path.filter((part) => !['settings', 'rules', 'meter'].includes(part));
    const wrap = (value: unknown): unknown => place.reduceRight<unknown>((inner, part) => ({ [part]: inner }), value);
    return differences(wrap(after), wrap(before));
  });
}
