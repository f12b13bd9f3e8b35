/** A judgement computed from readings or from a plan: how grave, in one sentence, and what to do next. */
export interface Finding {
  grade: 'good' | 'attention' | 'stop' | 'stale' | 'note';
  text: string;
  next?: string;
}

const GRAVITY: readonly Finding['grade'][] = ['stop', 'attention', 'stale', 'good', 'note'];

/** Gravest first; equal ones keep their order. */
export function gravestFirst(findings: readonly Finding[]): Finding[] {
  return [...findings].sort((a, b) => GRAVITY.indexOf(a.grade) - GRAVITY.indexOf(b.grade));
}
