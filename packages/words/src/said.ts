import { signedDb, type FigureTable, type FindingCode } from '@yield/core';

/** What is told of a finding: one sentence, and what to do about it in another. */
export interface Said {
  text: string;
  next?: string | undefined;
}

/** For each code a function of its figures; one that is missing, or that nobody can find, does not compile. */
export type WordsOf<C extends FindingCode> = { [K in C]: (figures: FigureTable[K]) => Said };

export const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** A difference whose direction the sentence tells. */
export const unsignedDb = (db: number): string => signedDb(Math.abs(db)).replace('+', '');
