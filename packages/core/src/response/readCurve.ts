import type { Fault } from '../coreError.ts';
import { figuresOfLine } from '../units/figuresOfLine.ts';

const MIN_POINTS = 3;
/** A level beyond these was no level: a column was mistaken. */
const MAX_DB = 300;

/**
 * Reads a response that was measured elsewhere: frequency and decibels in each line, what follows is left alone.
 *
 * @returns the points, or what is wrong with which line
 */
export function readCurve(text: string, leastPoints = MIN_POINTS): { frequenciesHz: number[]; levelDb: number[]; faults: Fault[] } {
  const frequenciesHz: number[] = [];
  const levelDb: number[] = [];
  const faults: Fault[] = [];
  text.split(/\r?\n/).forEach((line, i) => {
    const figures = figuresOfLine(line);
    if (figures.length === 0) return;
    const [hertz = NaN, db = NaN] = figures;
    const wrong = pointFault(hertz, db, frequenciesHz.at(-1));
    if (wrong !== undefined) faults.push({ pointer: `/${i}`, message: `Line ${i + 1}: ${wrong}` });
    else {
      frequenciesHz.push(hertz);
      levelDb.push(db);
    }
  });
  if (faults.length === 0 && frequenciesHz.length < leastPoints)
    faults.push({ pointer: '', message: `${leastPoints} lines at least: frequency and decibels in each.` });
  return { frequenciesHz, levelDb, faults };
}

function pointFault(hertz: number, db: number, beforeHz: number | undefined): string | undefined {
  if (Number.isNaN(hertz) || Number.isNaN(db)) return 'enter a frequency and decibels.';
  if (!(hertz > 0)) return 'frequency must be above 0 Hz.';
  if (Math.abs(db) > MAX_DB) return `${db} is no level in decibels.`;
  return beforeHz !== undefined && hertz <= beforeHz ? `${hertz} Hz after ${beforeHz} Hz: frequencies must rise.` : undefined;
}
