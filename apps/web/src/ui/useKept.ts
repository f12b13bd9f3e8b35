import { useCallback, useMemo } from 'react';
import { useDraft } from './useDraft.ts';

/**
 * Something that this browser keeps over a reload as JSON, by its own key.
 *
 * @param read - checks the shape of what was kept, which another version may have written; undefined lets go of it
 * @returns what was kept, and how to keep another one; `null` forgets it
 */
export function useKept<T>(key: string, read: (kept: unknown) => T | undefined): [T | undefined, (value: T | null) => void] {
  const [text, setText] = useDraft(key);
  // Read anew where the text changes; how it is read is the same every time.
  // eslint-disable-next-line react-hooks/exhaustive-deps
  const value = useMemo(() => readKept(text, read), [text]);
  const keep = useCallback((next: T | null) => setText(next === null ? null : JSON.stringify(next)), [setText]);
  return [value, keep];
}

/** What a kept text holds; undefined where there is none, or none that can be read. */
export function readKept<T>(text: string, read: (kept: unknown) => T | undefined): T | undefined {
  if (text === '') return undefined;
  try {
    return read(JSON.parse(text));
  } catch {
    return undefined;
  }
}
