import type { StageId } from '@yield/core';

const CHAPTERS: Record<StageId, string> = {
  loads: 'loads',
  flat: 'flat',
  ceiling: 'source-ceiling',
  levels: 'levels',
  crossovers: 'crossovers',
  gains: 'gain',
  proof: 'proof',
  phase: 'polarity-and-phase',
  response: 'response',
  handover: 'handover',
};

/** Where the guide speaks of a stage. */
export const guidePath = (stage: StageId): string => `/guide#${CHAPTERS[stage]}`;
