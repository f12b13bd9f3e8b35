import { formatQuantity, type LevelStage } from '@yield/core';

/** What a stage is called. */
export const ROLE: Record<LevelStage['id'], string> = {
  source: 'Source',
  processor: 'Processor',
  amplifier: 'Amplifier',
  drivers: 'Drivers',
};

export function inWords({ id, nowVolt, ceilingVolt }: LevelStage): string {
  const now = nowVolt === undefined ? 'not read yet' : formatQuantity(nowVolt, 'V');
  return `${ROLE[id]} ${now}${ceilingVolt === undefined ? '' : `, ceiling ${formatQuantity(ceilingVolt, 'V')}`}`;
}
