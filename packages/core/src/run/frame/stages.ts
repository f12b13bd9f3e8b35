/** A stretch of the run. */
export interface Stage {
  id: StageId;
  name: string;
  /** one channel after the other, all of its steps together; else one kind of step after the other */
  isByChannel?: boolean;
}

export type StageId = 'loads' | 'flat' | 'ceiling' | 'levels' | 'crossovers' | 'gains' | 'proof' | 'phase' | 'response' | 'handover';

/** In the order of the work. */
export const STAGES: readonly Stage[] = [
  { id: 'loads', name: 'Loads', isByChannel: true },
  { id: 'flat', name: 'Flat' },
  { id: 'ceiling', name: 'Source ceiling' },
  { id: 'levels', name: 'Levels' },
  { id: 'crossovers', name: 'Crossovers', isByChannel: true },
  { id: 'gains', name: 'Gains' },
  { id: 'proof', name: 'Proof', isByChannel: true },
  { id: 'phase', name: 'Polarity and phase' },
  { id: 'response', name: 'Response' },
  { id: 'handover', name: 'Handover' },
];
