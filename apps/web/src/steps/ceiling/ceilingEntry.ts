import { parseQuantity, type EyeVerdict } from '@yield/core';

const LETTERS: Record<string, EyeVerdict> = { c: 'clean', f: 'fuzzy', x: 'clipped' };

export type CeilingEntry =
  | { kind: 'ok'; value: number; resolution: number; eye?: EyeVerdict }
  | { kind: 'empty' }
  | { kind: 'fault'; message: string };

/** One row as it is typed: a voltage, a letter for what the picture looks like, or both: "2.31", "2.31f", "x". */
export function readCeilingEntry(text: string): CeilingEntry {
  const trimmed = text.trim();
  const letter = /[cfx]$/i.exec(trimmed)?.[0]?.toLowerCase();
  const eye = letter === undefined ? undefined : LETTERS[letter];
  const figure = letter === undefined ? trimmed : trimmed.slice(0, -1);
  if (figure.trim() === '') return eye === undefined ? { kind: 'empty' } : { kind: 'ok', value: 0, resolution: 0.001, eye };
  const parsed = parseQuantity(figure, 'V');
  if (parsed.kind !== 'ok') return parsed;
  if (parsed.value < 0) return { kind: 'fault', message: 'A meter on AC never reads below zero. Is it on DC volts?' };
  return { kind: 'ok', value: parsed.value, resolution: parsed.resolution, ...(eye === undefined ? {} : { eye }) };
}

/** Why a step of the volume cannot be one; undefined where it can. */
export function volumeFault(text: string, volumeSteps: number): string | undefined {
  const volume = Number(text);
  if (text.trim() === '' || !Number.isInteger(volume) || volume < 0) return 'A step of the volume is a whole number.';
  return volume > volumeSteps ? `The scale ends at ${volumeSteps}.` : undefined;
}
