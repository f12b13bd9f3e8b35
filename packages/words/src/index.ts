import type { Finding, FindingCode, FigureTable } from '@yield/core';
import { FINDINGS } from './findings/index.ts';
import type { Said } from './said.ts';

export * from './glossary.ts';
export * from './houseQuestions.ts';
export * from './noSound.ts';
export * from './passages.ts';
export type { Said } from './said.ts';

/** What a finding says, for people: one sentence, and what to do. */
export const say = ({ code, figures }: Pick<Finding, 'code' | 'figures'>): Said =>
  (FINDINGS[code] as (figures: FigureTable[FindingCode]) => Said)(figures);
