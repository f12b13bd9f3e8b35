import { formatQuantity, type EqualiserFilter, type Finding, type LeftStretch } from '@yield/core';

/** Bands for a spreadsheet. */
export const bandsCsv = (filters: readonly EqualiserFilter[]): string =>
  ['kind,frequency Hz,gain dB,Q', ...filters.map(({ kind, frequencyHz, gainDb, q }) => `${kind},${frequencyHz},${gainDb},${q}`)].join(
    '\r\n',
  );

/** Why a stretch of a response stays as it is. */
export function leftFinding({ fromHz, toHz, reason }: LeftStretch): Pick<Finding, 'grade' | 'words' | 'next'> {
  const where = `${formatQuantity(fromHz, 'Hz')} to ${formatQuantity(toHz, 'Hz')}`;
  switch (reason) {
    case 'null':
      return {
        grade: 'note',
        words: `A null at ${where} is left as it is: two paths cancel there, and so would whatever is added.`,
        next: 'Position, polarity, delay or crossover mend a null; an equaliser does not.',
      };
    case 'limit':
      return {
        grade: 'attention',
        words: `${where} stays more than 2 dB off.`,
        next: 'The limits or the number of bands keep it there: more boost costs headroom, and more bands seldom sound better.',
      };
    case 'outside':
      return { grade: 'note', words: `${where} lies outside of the range, and is left alone.` };
  }
}
