import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import type { Chain } from './chain.ts';
import { isLineReading, isToneReading } from './records.ts';
import { newest, type RunRecords } from './state.ts';
import { stepId, type ChannelStep } from './steps.ts';

/** One stage of the chain on the common scale: what a full-scale tone gives there now, and how far it may go. */
export interface LevelStage {
  id: 'source' | 'processor' | 'amplifier' | 'drivers';
  name: string;
  nowVolt?: number;
  ceilingVolt?: number;
  ceilingBasis: 'measured' | 'rated' | 'assumed';
  headroomDb?: number;
}

/** Any step about a channel. */
type OfChannel = Omit<ChannelStep, 'kind'>;

/**
 * Levels of one channel from source to drivers, all as RMS volts of a full-scale tone.
 *
 * The processor's ceiling is what it gives clean or what the amplifier's input takes, whichever is less; the amplifier's is the
 * voltage of its rating at the load; the drivers' is the voltage at which they take their rated power.
 */
export function levelPath(step: OfChannel, chain: Chain, records: RunRecords): LevelStage[] {
  const { source } = chain;
  const reading = newest(
    records.readings.filter(isToneReading),
    (r) => r.stepId === stepId('gain', step.channel.id) && r.kind === 'gain-voltage',
  );
  const outputVolt = reading === undefined ? undefined : fullScaleVolt(reading.value, reading.conditions.toneLevelDbfs + step.loss.db);
  const { loadOhm } = step.channel;
  const known = step.power.kind === 'known' ? step.power : undefined;
  return [
    stage('source', source.name, source.outputVolt, source.ceilingVolt, source.volumeBasis),
    ...processorStage(step, chain, records),
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

function fullScaleVolt(value: number, toneLevelDbfs: number): number | undefined {
  return value <= 0 ? undefined : value * voltageFactor(-toneLevelDbfs);
}

function processorStage({ channel, amplifier }: OfChannel, { processor }: Chain, { readings }: RunRecords): LevelStage[] {
  if (processor === undefined) return [];
  const output = processor.outputs.find(({ id }) => id === channel.processorOutputId);
  const name = output === undefined ? processor.name : `${processor.name}, ${output.name}`;
  const reading =
    output === undefined
      ? undefined
      : newest(readings.filter(isLineReading), (r) => r.stepId === stepId('output', output.id) && r.kind === 'output-voltage');
  const ceilings = [processor.mostOutputVolt, amplifier.inputMaxVolt].filter((volt) => volt !== undefined);
  return [
    stage(
      'processor',
      name,
      reading === undefined ? undefined : fullScaleVolt(reading.value, reading.conditions.toneLevelDbfs),
      ceilings.length === 0 ? undefined : Math.min(...ceilings),
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
