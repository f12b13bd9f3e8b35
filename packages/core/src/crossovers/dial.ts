import { formatQuantity, plainFigure } from '../units/formatQuantity.ts';
import { parseQuantity } from '../units/parseQuantity.ts';
import type { FilterFamily, FilterKind } from './filters.ts';

/** One stop of a dial: what is printed or counted there, and the corner that its table gives, before any multiplier. */
export interface Detent {
  label: string;
  cornerHz: number;
}

/** A knob for a corner, kept with its gear. */
export interface Dial {
  id: string;
  name: string;
  kind: FilterKind;
  /** as its manual says */
  family: FilterFamily;
  order: number;
  /** clicks hold the knob at the stops; between rough marks it stands anywhere */
  stops: 'clicks' | 'marks';
  /** rising, in the order of the knob */
  table: Detent[];
  /** such as 1 and 10; 1 alone where there is no switch */
  multipliers: number[];
}

/** Where a dial stands: the index of a stop, and the switch. */
export interface DialSetting {
  click: number;
  multiplier: number;
}

export interface NearestSetting extends DialSetting {
  label: string;
  /** what this setting gives by its table */
  cornerHz: number;
  /** against the wished corner, in percent; above 0 is higher */
  offPercent: number;
  /** for rough marks: the next mark, and how far towards it, from 0 to 1 */
  between?: { nextLabel: string; share: number };
}

export interface ReadTable {
  table: Detent[];
  /** what is wrong, by line of the text from 1 */
  faults: { line: number; message: string }[];
}

const MIN_STOPS = 2;
const MAX_STOPS = 200;
/** A table that jumps further than this from one click to the next has most likely lost a line. */
const MAX_JUMP = 2.5;

/**
 * Reads a table of stops as it is pasted or comes from a CSV file: a label and a corner on each line, or the corner alone.
 *
 * A line without any figure before the first stop is a heading. Clicks have to be numbered without a gap, and corners to rise.
 */
export function readDialTable(text: string): ReadTable {
  const table: Detent[] = [];
  const faults: ReadTable['faults'] = [];
  let lastNumber: number | null = null;
  const lines = text.replaceAll('"', '').split(/\r\n|\n|\r/);
  const separator = separatorOf(lines);
  lines.forEach((raw, i) => {
    const line = i + 1;
    const cells = cellsOf(raw, separator);
    if (cells.length === 0) return;
    const corner = cells.length === 1 ? cells[0]! : cells[1]!;
    const parsed = parseQuantity(corner, 'Hz');
    if (parsed.kind !== 'ok') {
      if (table.length === 0 && faults.length === 0 && !cells.some((cell) => /\d/.test(cell))) return;
      faults.push({ line, message: parsed.kind === 'fault' ? parsed.message : 'The corner is missing.' });
      // Its click was there, only its corner was not: the lines after it are no worse for it.
      lastNumber = numberOf(cells[0]!) ?? (lastNumber === null ? null : lastNumber + 1);
      return;
    }
    if (cells.length > 2) {
      faults.push({ line, message: 'A line holds a label and a corner; this one holds more.' });
      lastNumber = numberOf(cells[0]!) ?? (lastNumber === null ? null : lastNumber + 1);
      return;
    }
    const label = cells.length === 1 ? String(table.length + 1) : cells[0]!;
    const before = table.at(-1);
    const refusal = cornerRefusal(parsed.value, before);
    if (refusal !== undefined) {
      // Left out of the table: the lines after it are held against the last good one.
      faults.push({ line, message: refusal });
      lastNumber = numberOf(label) ?? lastNumber;
      return;
    }
    const number = numberOf(label);
    if (cells.length > 1 && number !== null && lastNumber !== null && number !== lastNumber + 1) {
      faults.push({ line, message: `Click ${lastNumber + 1} is missing: after ${lastNumber} comes ${number}.` });
    } else if (before !== undefined && parsed.value > before.cornerHz * MAX_JUMP) {
      faults.push({
        line,
        message: `From ${formatQuantity(before.cornerHz, 'Hz')} to ${formatQuantity(parsed.value, 'Hz')} in one step: is a line missing?`,
      });
    }
    lastNumber = number;
    table.push({ label, cornerHz: parsed.value });
  });
  if (faults.length === 0 && table.length < MIN_STOPS) faults.push({ line: 1, message: 'A dial has two stops or more: one on each line.' });
  if (table.length > MAX_STOPS) faults.push({ line: MAX_STOPS + 1, message: `A dial has at most ${MAX_STOPS} stops.` });
  return { table, faults };
}

function cornerRefusal(cornerHz: number, before: Detent | undefined): string | undefined {
  if (cornerHz <= 0) return 'A corner must be above 0 Hz.';
  if (before === undefined || cornerHz > before.cornerHz) return undefined;
  return `The corner does not rise: ${formatQuantity(cornerHz, 'Hz')} after ${formatQuantity(before.cornerHz, 'Hz')}.`;
}

const numberOf = (label: string): number | null => (/^\d+$/.test(label) ? Number(label) : null);

/** How the cells of a line are told apart. */
type Separator = RegExp | null;

/** Tabs, else semicolons, else commas where they are no decimal commas, else the gap before the last figure. */
function separatorOf(lines: readonly string[]): Separator {
  if (lines.some((line) => line.includes('\t'))) return /\t/;
  if (lines.some((line) => line.includes(';'))) return /;/;
  // "1,50" is a click and its corner, "63,5" a figure: no dial has a corner below ten hertz.
  const first = lines.find((line) => /^[^,]*\d[^,]*,\s*\d/.test(line));
  const head = first?.slice(0, first.indexOf(',')).trim();
  if (head !== undefined && !/^\d{2,}$/.test(head)) return /,/;
  return null;
}

function cellsOf(line: string, separator: Separator): string[] {
  const text = line.trim();
  if (text === '') return [];
  const cells = separator === null ? splitByGap(text) : text.split(separator);
  return cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
}

/** "12 80 Hz", "12 80" and "80 Hz": a unit behind a figure belongs to it. */
function splitByGap(text: string): string[] {
  const match = /^(.*\S)\s+(\d[\d.,]*\s*k?(?:hz)?)$/i.exec(text);
  return match === null ? [text] : [match[1]!, match[2]!];
}

/** The table as text, to be changed by hand and read again. */
export const dialTableText = (table: readonly Detent[]): string =>
  table.map(({ label, cornerHz }) => `${label}\t${plainFigure(cornerHz)}`).join('\n');

/** What a setting of a dial gives by its table; undefined where there is no such stop or switch. */
export function dialCornerHz({ table, multipliers }: Dial, { click, multiplier }: DialSetting): number | undefined {
  const detent = table[click];
  return detent === undefined || !multipliers.includes(multiplier) ? undefined : detent.cornerHz * multiplier;
}

/** Stop and switch that come nearest to a wished corner, as a ratio; the lower multiplier where two give the same. */
export function nearestSetting({ table, multipliers, stops }: Dial, wishedHz: number): NearestSetting | undefined {
  let best: NearestSetting | undefined;
  const far = ({ cornerHz }: { cornerHz: number }): number => Math.abs(Math.log(cornerHz / wishedHz));
  for (const multiplier of [...multipliers].sort((a, b) => a - b)) {
    table.forEach((detent, click) => {
      const cornerHz = detent.cornerHz * multiplier;
      if (best !== undefined && far({ cornerHz }) >= far(best) - 1e-9) return;
      best = { click, multiplier, label: detent.label, cornerHz, offPercent: 100 * (cornerHz / wishedHz - 1) };
    });
  }
  if (best === undefined || stops === 'clicks') return best;
  return between(table, best, wishedHz);
}

/** Between two rough marks the knob is taken to be even in octaves. */
function between(table: readonly Detent[], nearest: NearestSetting, wishedHz: number): NearestSetting {
  const wished = wishedHz / nearest.multiplier;
  const below = table.findLastIndex(({ cornerHz }) => cornerHz <= wished);
  const [low, high] = [table[below], table[below + 1]];
  if (low === undefined || high === undefined) return nearest;
  const share = Math.log(wished / low.cornerHz) / Math.log(high.cornerHz / low.cornerHz);
  const at = { ...nearest, click: below, label: low.label, cornerHz: wishedHz, offPercent: 0 };
  return share < 0.02 ? at : { ...at, between: { nextLabel: high.label, share } };
}

/** How a setting is said at the gear: "click 23, ×1" or "a third of the way from 80 to 120". */
export function settingWords(dial: Dial, { label, multiplier, between: gap }: NearestSetting): string {
  const place =
    gap === undefined
      ? `${dial.stops === 'clicks' ? 'click' : 'mark'} ${label}`
      : `${shareWords(gap.share)} from mark ${label} to mark ${gap.nextLabel}`;
  return dial.multipliers.length > 1 ? `${place}, switch at ×${plainFigure(multiplier)}` : place;
}

function shareWords(share: number): string {
  const named: [number, string][] = [
    [0.1, 'just a little of the way'],
    [0.25, 'a quarter of the way'],
    [1 / 3, 'a third of the way'],
    [0.5, 'half of the way'],
    [2 / 3, 'two thirds of the way'],
    [0.75, 'three quarters of the way'],
    [0.9, 'nearly all the way'],
  ];
  return named.reduce((best, next) => (Math.abs(next[0] - share) < Math.abs(best[0] - share) ? next : best))[1];
}
