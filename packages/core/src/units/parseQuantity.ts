import { TYPED_PREFIXES, UNITS, type Unit } from './units.ts';

export type ParsedQuantity =
  | {
      kind: 'ok';
      /** in the SI unit asked for */
      value: number;
      /** place value of the last digit typed, in the same unit: 0.1 for "14.2", 0.001 for "346m" */
      resolution: number;
    }
  | { kind: 'empty' }
  | { kind: 'fault'; message: string };

const NUMBER = /^([+-]?)(\d[\d.,]*|[.,]\d+)(?:e([+-]?\d{1,3}))?(.*)$/i;

/**
 * Reads a figure as a person types it: `34.6`, `34,6`, `346m`, `1.2k`, `4 ohm`, `−3 dB`.
 *
 * A comma or a point alone is the decimal sign; with both, the last one is. A unit may be left out; a wrong one is refused.
 *
 * @param text - what was typed
 * @param unit - the unit that the field wants
 */
export function parseQuantity(text: string, unit: Unit): ParsedQuantity {
  const compact = text
    .replace(/[−–]/g, '-')
    .replace(/[\s\u00a0\u202f]/g, '')
    .replaceAll('\u2126', 'Ω');
  if (compact === '') return { kind: 'empty' };
  const { plural } = UNITS[unit];
  const match = NUMBER.exec(compact);
  if (match === null) return { kind: 'fault', message: `“${text.trim()}” is not a number. Type ${plural}, such as ${exampleOf(unit)}.` };
  const [, sign = '', digits = '', exponent = '0', tail = ''] = match;

  const plain = plainDecimal(digits);
  if (plain === null) return { kind: 'fault', message: `“${text.trim()}” has more than one decimal sign.` };
  const factor = factorOf(tail, unit);
  if (factor === null) {
    return { kind: 'fault', message: `“${tail}” does not belong here: this field wants ${plural}, such as ${exampleOf(unit)}.` };
  }
  const scale = factor * 10 ** Number(exponent);
  // The number is scaled as text: 346m is 0.346, not 0.34600000000000003.
  const value = Number(`${sign}${plain}e${Math.round(Math.log10(scale))}`);
  if (!Number.isFinite(value)) return { kind: 'fault', message: `“${text.trim()}” is too large.` };
  const decimals = plain.includes('.') ? plain.length - plain.indexOf('.') - 1 : 0;
  return { kind: 'ok', value, resolution: scale * 10 ** -decimals };
}

/** "1.234,5" and "1,234.5" hold thousands signs; a single comma or point is the decimal sign. */
function plainDecimal(digits: string): string | null {
  const decimalAt = Math.max(digits.lastIndexOf('.'), digits.lastIndexOf(','));
  if (decimalAt === -1) return digits;
  const decimalSign = digits.charAt(decimalAt);
  const whole = digits.slice(0, decimalAt);
  if (whole.includes(decimalSign)) return null;
  const groups = whole.split(/[.,]/);
  if (groups.length > 1 && !groups.slice(1).every((group) => group.length === 3)) return null;
  return `${groups.join('')}.${digits.slice(decimalAt + 1)}`;
}

/** Factor of what stands behind the number, or null where it is no spelling of the unit. "m" alone is metres or milli, as the field asks. */
function factorOf(tail: string, unit: Unit): number | null {
  const { spellings } = UNITS[unit];
  if (tail === '' || spellings.includes(tail.toLowerCase()) || spellings.includes(tail)) return 1;
  const prefix = TYPED_PREFIXES[tail.charAt(0)];
  const rest = tail.slice(1);
  if (prefix === undefined || unit === 'dB' || unit === 'dBFS' || unit === '%' || unit === 'step') return null;
  return rest === '' || spellings.includes(rest.toLowerCase()) || spellings.includes(rest) ? prefix : null;
}

function exampleOf(unit: Unit): string {
  switch (unit) {
    case 'V':
      return '14.2 or 346m';
    case 'dB':
    case 'dBFS':
      return '-3';
    case 'Hz':
      return '40 or 1.2k';
    default:
      return '4 or 3.6';
  }
}
