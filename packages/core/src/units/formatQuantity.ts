import { UNITS, type Unit } from './units.ts';

const MINUS = '−';
const NARROW_GAP = '\u00a0';

/**
 * Prints a value with three significant figures, a prefix where it helps, a real minus sign and a gap that does not break.
 *
 * @param value - in SI (decibels and percent as they stand)
 * @returns such as "14.2 V", "346 mV", "1.20 kHz", "−3.0 dB", "0.25 Ω"
 */
export function formatQuantity(value: number, unit: Unit): string {
  if (unit === 'dB' || unit === 'dBFS') return `${fixed(value, 1)}${NARROW_GAP}${UNITS[unit].sign}`;
  if (unit === 'step') return fixed(value, 0);
  if (unit === 'ratio') return significant(value);
  const { sign, shownPrefixes } = UNITS[unit];
  // Round first, so that 999.7 becomes 1.00 k and not 1000.
  const magnitude = Math.abs(Number(value.toPrecision(3)));
  const prefix = [...shownPrefixes]
    .sort((a, b) => b.factor - a.factor)
    .find(({ factor }) => (factor > 1 ? magnitude >= factor : magnitude < 1 && magnitude >= factor && magnitude > 0));
  const factor = prefix?.factor ?? 1;
  return `${significant(value / factor)}${NARROW_GAP}${prefix?.sign ?? ''}${sign}`;
}

/** Three significant figures without an exponent, trailing zeros of a small whole number dropped: 4, 14.2, 0.25, 1.20 stays 1.20. */
export function significant(value: number): string {
  if (value === 0) return '0';
  const rounded = Number(value.toPrecision(3));
  if (Number.isInteger(rounded) && Math.abs(value - rounded) < 1e-9) return rounded.toString().replace('-', MINUS);
  const decimals = Math.min(6, Math.max(0, 2 - Math.floor(Math.log10(Math.abs(rounded)))));
  return rounded.toFixed(decimals).replace('-', MINUS);
}

/** Up to three significant figures, no more than are there: 0.2 stays 0.2. For figures that were typed in. */
export function plainFigure(value: number): string {
  return Number(value.toPrecision(3)).toString().replace('-', MINUS);
}

/** A number with a fixed count of decimals and a real minus sign; never "−0.0". */
export function fixed(value: number, decimals: number): string {
  const text = value.toFixed(decimals);
  return Number(text) === 0 ? text.replace('-', '') : text.replace('-', MINUS);
}

/** A change in decibels as an instruction reads it: "+1.2 dB" or "−0.4 dB". */
export function signedDb(db: number): string {
  const text = fixed(db, 1);
  return `${text.startsWith(MINUS) || Number(text) === 0 ? '' : '+'}${text}${NARROW_GAP}dB`;
}
