import type { Graded } from '../ui/FindingLine.tsx';
import { formatQuantity, type EqualiserFilter, type LeftStretch } from '@yield/core';

/** Bands for a spreadsheet. */
export const bandsCsv = (filters: readonly EqualiserFilter[]): string =>
  ['kind,frequency Hz,gain dB,Q', ...filters.map(({ kind, frequencyHz, gainDb, q }) => `${kind},${frequencyHz},${gainDb},${q}`)].join(
    '\r\n',
  );

/** Why a stretch of a response stays as it is. */
export function leftFinding({ fromHz, toHz, reason }: LeftStretch): Graded {
  const where = `${formatQuantity(fromHz, 'Hz')} to ${formatQuantity(toHz, 'Hz')}`;
  switch (reason) {
    case 'null':
      return {
        grade: 'note',
        text: `The null at ${where} stays: two paths cancel there, and would cancel any boost.`,
        next: 'Fix a null with position, polarity, delay or crossover, not EQ.',
      };
    case 'limit':
      return {
        grade: 'attention',
        text: `${where} stays more than 2 dB off.`,
        next: 'Limited by the boost and cut limits or the number of bands. More boost costs headroom, and more bands seldom sound better.',
      };
    case 'outside':
      return { grade: 'note', text: `${where} is outside the range and stays unchanged.` };
  }
}
