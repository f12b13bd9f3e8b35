import type { LoadReading } from '../job/records.ts';
import { voltageFactor, voltageRatioDb } from '../levels/decibels.ts';
import { channelsNow, type ChannelNow } from './frame/channels.ts';
import { onceEach, type Situation } from './frame/situation.ts';
import { gainReadings } from './frame/gainReadings.ts';
import { outputReading } from './kinds/output/judge.ts';
import type { RunStep } from './run.ts';

/** A filter that takes as much off the tone as before is the same to it. */
const SAME_LOSS_DB = 0.1;

/** One stage of the chain on the common scale: what a full-scale tone gives there now, and how far it may go. */
export interface LevelStage {
  id: 'source' | 'processor' | 'amplifier' | 'drivers';
  name: string;
  nowVolt?: number;
  ceilingVolt?: number;
  ceilingBasis: 'measured' | 'rated' | 'assumed';
  headroomDb?: number;
}

/**
 * Levels of one channel from source to drivers, all as RMS volts of a full-scale tone.
 *
 * The processor's ceiling is what it gives clean or what the amplifier's input takes, whichever is less; the amplifier's is the
 * voltage of its rating at the load; the drivers' is the voltage at which they take their rated power.
 */
export const levelPath = onceEach(
  ({ channel }: ChannelNow) => channel.id,
  (now, of): LevelStage[] => stagesOf(of, now),
);

/** The channel whose levels are shown beside a step: its own, or the first one where it is about the source or the processor. */
export const pathChannel = ({ channels }: Pick<RunStep, 'channels'>, now: Situation): ChannelNow | undefined =>
  channels[0] ?? channelsNow(now)[0];

function stagesOf(of: ChannelNow, now: Situation): LevelStage[] {
  const { source } = now.chain;
  const reading = gainReadings(now, of.channel.id).at(-1);
  // Under its load it has what the load takes off less: the ceilings beside are ceilings under load.
  const loadDb = reading?.conditions.load === 'off' ? -of.sagDb : 0;
  const outputVolt =
    reading === undefined
      ? undefined
      : fullScaleVoltRms(reading.value * voltageFactor(loadDb), reading.conditions.toneLevelDbfs + lossThen(reading, of) - of.loss.peakDb);
  const known = of.power.kind === 'known' ? of.power : undefined;
  return [
    stage('source', source.name, source.outputVolt, source.ceilingVolt, source.volumeBasis),
    ...processorStage(of, now),
    stage(
      'amplifier',
      `${of.amplifier.name}, ${of.channel.terminals}`,
      outputVolt,
      known === undefined ? undefined : Math.sqrt(known.amplifierWatt * of.plannedOhm),
      known?.amplifierBasis === 'estimated' || known?.amplifierBasis === 'guess' ? 'assumed' : 'rated',
    ),
    stage(
      'drivers',
      of.channel.drivers.map(({ name }) => name).join(', '),
      outputVolt,
      known === undefined ? undefined : Math.sqrt(known.driversWatt * of.plannedOhm),
      'rated',
    ),
  ];
}

/** What the filters took off the tone when it was read: as best known now, unless they were set otherwise since. */
function lossThen({ conditions: { filters } }: LoadReading, { loss }: ChannelNow): number {
  if (filters === undefined || Math.abs(filters.setDb - loss.setDb) < SAME_LOSS_DB) return loss.db;
  return filters.provedDb ?? filters.setDb;
}

function fullScaleVoltRms(voltageRms: number, toneLevelDbfs: number): number | undefined {
  return voltageRms <= 0 ? undefined : voltageRms * voltageFactor(-toneLevelDbfs);
}

function processorStage({ channel, amplifier }: ChannelNow, now: Situation): LevelStage[] {
  const { processor } = now.chain;
  if (processor === undefined) return [];
  const output = processor.outputs.find(({ id }) => id === channel.processorOutputId);
  const name = output === undefined ? processor.name : `${processor.name}, ${output.name}`;
  const reading = output === undefined ? undefined : outputReading(now, output.id);
  const ceilings = [processor.mostOutputVolt, amplifier.inputMaxVolt].filter((volt) => volt !== undefined);
  return [
    stage(
      'processor',
      name,
      reading === undefined ? undefined : fullScaleVoltRms(reading.value, reading.conditions.toneLevelDbfs),
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
