import { targetVoltage, type TargetVoltage } from '../gain/targetVoltage.ts';
import { voltageFactor } from '../levels/decibels.ts';
import type { Hookup } from '../loads/hookup.ts';
import { hookupOf } from '../loads/planLoads.ts';
import type { SourceInput, SourceOutput } from '../source/sourceControls.ts';
import type { ActiveFilter, Amplifier, Chain, Channel, HouseRules, Processor } from './chain.ts';
import { channelCoils } from './channelWiring.ts';
import { filterLoss, type FilterLoss } from './filterLoss.ts';
import type { Conditions, FilterConditions, LineConditions, StepMark } from './records.ts';
import { sourceConditionsNow, sourceInputs, sourceOutputs } from './source.ts';
import { amplifierOf, targetPower, type TargetPower } from './targetPower.ts';
import { filtersOf, filterWords, isProofWanted, NOTHING_PROVED, type ProvedFilters } from './voices.ts';

export type ChannelStepKind = 'coils' | 'whole' | 'hookup' | 'filters' | 'gain' | 'proof';
export type StepKind = ChannelStepKind | 'flat' | 'ceiling' | 'factory' | 'input' | 'output' | 'crossover';

export const STEP_KINDS: readonly StepKind[] = [
  'coils',
  'whole',
  'hookup',
  'flat',
  'ceiling',
  'factory',
  'input',
  'output',
  'filters',
  'crossover',
  'gain',
  'proof',
];

/** A step's id is its kind and the id of what it is about: a channel, a filter, an input or output of the source or of the processor. */
export const STEP_ID_PATTERN = `^(${STEP_KINDS.join('|')}):[A-Za-z0-9-]{1,64}$`;

/** One thing to set, measure and judge. */
export type Step = ChannelStep | CrossoverStep | FlatStep | CeilingStep | FactoryStep | InputStep | OutputStep;

export interface ChannelStep {
  /** stable over edits of the chain: kind and channel */
  id: string;
  kind: ChannelStepKind;
  channel: Channel;
  amplifier: Amplifier;
  toneHz: number;
  hookup: Hookup;
  power: TargetPower;
  /** what the filters before the terminals take off the tone; counted into the target */
  loss: FilterLoss;
  /** undefined where the power is unknown */
  target?: TargetVoltage;
}

/** One filter of a channel, proved by voltages. */
export interface CrossoverStep extends Omit<ChannelStep, 'kind'> {
  kind: 'crossover';
  filter: ActiveFilter;
}

/** Everything neutral, for one input of the source. */
export interface FlatStep {
  id: string;
  kind: 'flat';
  input: SourceInput;
}

/** How far the volume may go, at one output of the source. */
export interface CeilingStep {
  id: string;
  kind: 'ceiling';
  output: SourceOutput;
  toneHz: number;
}

/** What a factory unit does to the signal. */
export interface FactoryStep {
  id: string;
  kind: 'factory';
}

/** A processor's input, just under its clipping. */
export interface InputStep {
  id: string;
  kind: 'input';
  processor: Processor;
  input: Processor['inputs'][number];
  toneHz: number;
}

/** A processor's output, at its target. */
export interface OutputStep {
  id: string;
  kind: 'output';
  processor: Processor;
  output: Processor['outputs'][number];
  toneHz: number;
  /** channels that hang on it */
  channels: Channel[];
  /** RMS of a full-scale tone, and of the tone as recorded */
  target: { fullScaleVolt: number; settingVolt: number; limitedBy: 'wish' | 'processor' | 'amplifier' };
}

export const isChannelStep = (step: Step): step is ChannelStep => 'channel' in step && step.kind !== 'crossover';

export const stepId = (kind: StepKind, of: string): string => `${kind}:${of}`;

/**
 * The ordered steps that a chain calls for: each channel's load metered and hooked up, the source made flat and its ceiling
 * found, the processor's levels, every channel's filters, then every gain, then every proof.
 *
 * @param proved - filters as they were measured: targets count with them
 *
 * Channels whose amplifier is missing are left out; a single coil is metered once, as the whole. A chain without amplifiers
 * calls for nothing yet.
 */
export function stepsOf(chain: Chain, rules: HouseRules, proved: ProvedFilters = NOTHING_PROVED): Step[] {
  const ofChannels = (kinds: readonly ChannelStepKind[]): ChannelStep[] =>
    chain.channels.flatMap((channel) => {
      const amplifier = amplifierOf(chain, channel);
      if (amplifier === undefined) return [];
      return kinds.filter((kind) => callsFor(channel, kind)).map((kind) => channelStep(kind, channel, amplifier, rules, proved));
    });
  const loads = ofChannels(['coils', 'whole', 'hookup']);
  if (loads.length === 0) return [];
  return [
    ...loads,
    ...sourceSteps(chain, rules),
    ...processorSteps(chain, rules),
    ...ofChannels(['filters']).flatMap((step) => [step, ...crossoverSteps(step)]),
    ...ofChannels(['gain']),
    ...ofChannels(['proof']),
  ];
}

/** A filter that is set by a dial is proved right after it was set. */
function crossoverSteps(step: ChannelStep): CrossoverStep[] {
  return filtersOf(step.channel)
    .filter(isProofWanted)
    .map((filter) => ({ ...step, kind: 'crossover', id: stepId('crossover', filter.id), filter }));
}

function sourceSteps({ source }: Chain, rules: HouseRules): Step[] {
  return [
    ...sourceInputs(source).map((input): FlatStep => ({ id: stepId('flat', input), kind: 'flat', input })),
    ...sourceOutputs(source).map((output): CeilingStep => ({
      id: stepId('ceiling', output),
      kind: 'ceiling',
      output,
      toneHz: output === 'preamp-sub' ? rules.bassToneHz : rules.otherToneHz,
    })),
    ...(source.isFactory === true ? [{ id: stepId('factory', 'source'), kind: 'factory' } as const] : []),
  ];
}

const USUAL_LINE_TONE_HZ = 100;

function processorSteps(chain: Chain, rules: HouseRules): Step[] {
  const { processor } = chain;
  if (processor === undefined) return [];
  const toneHz = rules.lineToneHz ?? USUAL_LINE_TONE_HZ;
  return [
    ...processor.inputs.map((input): InputStep => ({ id: stepId('input', input.id), kind: 'input', processor, input, toneHz })),
    ...processor.outputs.map((output): OutputStep => {
      const channels = chain.channels.filter(({ processorOutputId }) => processorOutputId === output.id);
      return {
        id: stepId('output', output.id),
        kind: 'output',
        processor,
        output,
        toneHz,
        channels,
        target: outputTarget(processor, channels, chain, rules),
      };
    }),
  ];
}

/**
 * What was wished for, unless the processor cannot give it or an amplifier's input cannot take it.
 *
 * Gain overlap belongs to the amplifiers alone: a line stage that clips is heard whatever the gain.
 */
function outputTarget(processor: Processor, channels: readonly Channel[], chain: Chain, rules: HouseRules): OutputStep['target'] {
  // Where nobody said what hangs on this output, any of the amplifiers may.
  const fed = channels.length === 0 ? chain.amplifiers : chain.amplifiers.filter(({ id }) => channels.some((c) => c.amplifierId === id));
  const limits: [number, OutputStep['target']['limitedBy']][] = [
    [processor.outputVolt, 'wish'],
    [processor.mostOutputVolt ?? Infinity, 'processor'],
    [Math.min(...fed.map(({ inputMaxVolt }) => inputMaxVolt ?? Infinity)), 'amplifier'],
  ];
  const [fullScaleVolt, limitedBy] = limits.reduce((least, limit) => (limit[0] < least[0] ? limit : least));
  return { fullScaleVolt, settingVolt: fullScaleVolt * voltageFactor(rules.toneLevelDbfs), limitedBy };
}

function callsFor(channel: Channel, kind: ChannelStepKind): boolean {
  if (kind === 'coils') return channelCoils(channel).length > 1;
  return kind !== 'whole' || channel.drivers.length > 0;
}

function channelStep(kind: ChannelStepKind, channel: Channel, amplifier: Amplifier, rules: HouseRules, proved: ProvedFilters): ChannelStep {
  const power = targetPower(amplifier, channel);
  const toneHz = channel.toneHz ?? (channel.band === 'bass' ? rules.bassToneHz : rules.otherToneHz);
  const loss = filterLoss(channel, toneHz, proved);
  return {
    id: stepId(kind, channel.id),
    kind,
    channel,
    amplifier,
    toneHz,
    hookup: channelHookup(channel, amplifier),
    power,
    loss,
    ...(power.kind === 'unknown' ? {} : { target: channelTarget(power.powerWatt, channel.loadOhm, rules, loss) }),
  };
}

/** The figure that the meter should read with this tone: where a filter takes something off it, that much less. */
function channelTarget(powerWatt: number, loadOhm: number, rules: HouseRules, { db }: FilterLoss): TargetVoltage {
  const { toneLevelDbfs, overlapDb, headroomDb } = rules;
  const inPassband = targetVoltage({ powerWatt, loadOhm, toneLevelDbfs, overlapDb, headroomDb });
  const settingVoltage = inPassband.settingVoltage * voltageFactor(db);
  return { ...inPassband, settingVoltage, powerAtSettingWatt: settingVoltage ** 2 / loadOhm };
}

/** What the amplifier's channel sees of its load. */
export function channelHookup(channel: Pick<Channel, 'mode' | 'loadOhm'>, amplifier: Amplifier): Hookup {
  return hookupOf({ ...amplifier, mode: channel.mode }, channel.loadOhm);
}

/** The conditions under which a voltage, a current or a trace of a channel's step is taken now. */
export function conditionsNow(step: ChannelStep | CrossoverStep, chain: Chain, rules: HouseRules, marks: readonly StepMark[]): Conditions {
  return {
    toneHz: step.toneHz,
    toneLevelDbfs: rules.toneLevelDbfs,
    ...sourceConditionsNow(chain, marks),
    sourceVolume: chain.source.workingVolume,
    load: step.kind === 'proof' ? 'on' : rules.loadWhileSetting,
    loadOhm: step.channel.loadOhm,
    mode: step.channel.mode,
    amplifierName: step.amplifier.name,
    ...(step.target === undefined ? {} : { targetVolt: step.target.settingVoltage }),
    filters: filterConditions(step),
  };
}

function filterConditions({ channel, loss }: Pick<ChannelStep, 'channel' | 'loss'>): FilterConditions {
  return {
    words: filtersOf(channel).map(filterWords).join('; '),
    setDb: loss.setDb,
    ...(loss.basis === 'proved' ? { provedDb: loss.db } : {}),
  };
}

/** The conditions under which the source's or the processor's output is looked at now, at the working volume. */
export function lineConditionsNow(
  step: CeilingStep | InputStep | OutputStep | FactoryStep | CrossoverStep,
  chain: Chain,
  rules: HouseRules,
  marks: readonly StepMark[],
): LineConditions {
  return {
    toneHz: step.kind === 'factory' ? rules.otherToneHz : step.toneHz,
    toneLevelDbfs: rules.toneLevelDbfs,
    ...sourceConditionsNow(chain, marks),
    sourceVolume: chain.source.workingVolume,
    ...(step.kind === 'input' || step.kind === 'output' ? { processorName: step.processor.name } : {}),
    ...(step.kind === 'output' ? { targetVolt: step.target.settingVolt } : {}),
  };
}
