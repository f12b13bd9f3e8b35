import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import type { Chain } from './chain.ts';
import { isToneReading } from './records.ts';
import type { RunRecords } from './state.ts';
import { stepId, type Step } from './steps.ts';

/** One stage of the chain on the common scale: what a full-scale tone gives there now, and how far it may go. */
export interface LevelStage {
  id: 'source' | 'amplifier' | 'drivers';
  name: string;
  nowVolt?: number;
  ceilingVolt?: number;
  ceilingBasis: 'measured' | 'rated' | 'assumed';
  headroomDb?: number;
}

/**
 * Levels of one channel from source to drivers, all as RMS volts of a full-scale tone.
 *
 * The amplifier's ceiling is the voltage of its rating at the load; the drivers' is the voltage at which they take their rated power.
 */
export function levelPath(step: Step, chain: Chain, { readings }: RunRecords): LevelStage[] {
  const { source } = chain;
  const reading = readings
    .filter(isToneReading)
    .filter((r) => r.stepId === stepId('gain', step.channel.id) && r.kind === 'gain-voltage' && r.voidedReason === undefined)
    .sort((a, b) => a.takenAt.localeCompare(b.takenAt))
    .at(-1);
  const outputVolt =
    reading === undefined || reading.value <= 0 ? undefined : reading.value * voltageFactor(-reading.conditions.toneLevelDbfs);
  const { loadOhm } = step.channel;
  const known = step.power.kind === 'known' ? step.power : undefined;
  return [
    stage('source', source.name, source.outputVolt, source.ceilingVolt, source.volumeBasis),
    stage(
      'amplifier',
      `${step.amplifier.name}, ${step.channel.terminals}`,
      outputVolt,
      known === undefined ? undefined : Math.sqrt(known.amplifierWatt * loadOhm),
      known?.amplifierBasis === 'estimated' ? 'assumed' : 'rated',
    ),
    stage(
      'drivers',
      step.channel.drivers.map(({ name }) => name).join(', '),
      outputVolt,
      known === undefined ? undefined : Math.sqrt(known.driversWatt * loadOhm),
      'rated',
    ),
  ];
}

function stage(
  id: LevelStage['id'],
  name: string,
  nowVolt: number | undefined,
  ceilingVolt: number | undefined,
  ceilingBasis: LevelStage['ceilingBasis'],
): LevelStage {
  return {
    id,
    name,
    ceilingBasis,
    ...(nowVolt === undefined ? {} : { nowVolt }),
    ...(ceilingVolt === undefined ? {} : { ceilingVolt }),
    ...(nowVolt === undefined || ceilingVolt === undefined ? {} : { headroomDb: voltageRatioDb(ceilingVolt, nowVolt) }),
  };
}

/** The stage with the least headroom; undefined where none is known. */
export function weakestStage(stages: readonly LevelStage[]): LevelStage | undefined {
  return stages.filter((s) => s.headroomDb !== undefined).sort((a, b) => (a.headroomDb ?? 0) - (b.headroomDb ?? 0))[0];
}
