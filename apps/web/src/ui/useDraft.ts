import { parseQuantity, type Unit } from '@yield/core';
import { useCallback } from 'react';
import { draftDone, draftTyped } from '../store/drafts.ts';
import { useAppDispatch, useAppSelector } from '../store/store.ts';

/** A text that is kept over a reload under its own key; `null` forgets it, so that the initial text stands again. */
export function useDraft(key: string, initial = ''): [string, (text: string | null) => void] {
  const dispatch = useAppDispatch();
  const text = useAppSelector((state) => state.drafts[key] ?? initial);
  const set = useCallback(
    (next: string | null) => void dispatch(next === null ? draftDone(key) : draftTyped({ key, text: next })),
    [dispatch, key],
  );
  return [text, set];
}

export interface QuantityDraft {
  text: string;
  setText: (text: string | null) => void;
  /** undefined while the field is empty or cannot be read */
  value?: number;
  fault?: string;
}

/** A quantity as it is typed: read at once, with what is wrong in words. */
export function useQuantityDraft(key: string, unit: Unit, initial = '', above = 0): QuantityDraft {
  const [text, setText] = useDraft(key, initial);
  return { text, setText, ...readQuantity(text, unit, above) };
}

export function readQuantity(text: string, unit: Unit, above = 0): Pick<QuantityDraft, 'value' | 'fault'> {
  const parsed = parseQuantity(text, unit);
  if (parsed.kind === 'empty') return {};
  if (parsed.kind === 'fault') return { fault: parsed.message };
  return parsed.value > above ? { value: parsed.value } : { fault: `must be above ${above}` };
}
