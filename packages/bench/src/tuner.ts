import {
  alignedChain,
  byTime,
  driverLetter,
  encodeWav,
  isLoadReading,
  seededRandom,
  sourceCases,
  stepId,
  voltageRatioDb,
  type Action,
  type CaptureConditions,
  type Chain,
  type Channel,
  type Conditions,
  type LineConditions,
  type LoadConditions,
  type LoadReading,
  type OhmConditions,
  type Random,
  type Reading,
  type Source,
  type SourceOutput,
  type StepReport,
  type SweepConditions,
  type TuneSettings,
} from '@yield/core';
import { recordedSweep } from './factoryUnit.ts';
import { filterSweep } from './filterSweep.ts';
import { simulatedMeter, simulatedOhmmeter, simulatedScope, type AcVoltmeter, type Probe } from './instruments.ts';
import { probedOhm } from './load.ts';
import { caseLiftDb, processorLevels, sourcePhysics, sourceWaveform } from './source.ts';
import { filtersDb, standingFilters } from './standingFilters.ts';
import { channelPhysics, knobFor, outputWaveform, type ChannelPhysics } from './vehicle.ts';
import type { Waveform } from './waveform.ts';

/** What the tuner hands in: something measured, ticked, or written into the chain; at the step at hand, or at another one. */
export type Move = MoveAt & { at?: string };

type MoveAt =
  | { kind: 'reading'; reading: { kind: string; value: number; resolution: number; conditions: Conditions } }
  | { kind: 'capture'; fileName: string; contentType: string; content: string | Uint8Array; conditions: CaptureConditions }
  | { kind: 'mark'; checks: readonly string[]; basis?: string; basisWords?: string }
  | { kind: 'chain'; chain: Chain }
  | { kind: 'void'; of: 'reading' | 'capture'; id: string };

const SUPPLY_VOLT = 13.8;
const SAMPLE_RATE_HZ = 44_100;

/** A vehicle that behaves as it is told here. */
export interface MadeVehicle {
  physicsOf: (channel: Channel) => ChannelPhysics;
  /** at the amplifier's terminals */
  supplyVolt: number;
}

/**
 * A tuner at the simulated vehicle who does only what actions say: reads what is to be read under the conditions that are named,
 * turns by the decibels that are named, ticks what is to be ticked. Of the trade it knows nothing.
 */
export class ScriptedTuner {
  private readonly seed: string;
  private readonly random: Random;
  private readonly gains = new Map<string, number>();
  private readonly outputs = new Map<string, number>();
  private inputKnob = 0;
  private meter: AcVoltmeter | undefined;
  private probed: Probe | undefined;

  private readonly made: MadeVehicle | undefined;

  /**
   * @param seed - the vehicle's; the same one behaves the same
   * @param made - a vehicle of given behaviour, in place of the one that the seed makes up
   */
  constructor(seed: string, made?: MadeVehicle) {
    this.seed = seed;
    this.made = made;
    this.random = seededRandom(`${seed}/tuner`);
  }

  /** Finds the knobs where the newest gain readings of a tune left them. */
  takeOver(readings: readonly Reading[], chain: Chain): void {
    for (const channel of chain.channels) {
      const last = readings
        .filter(
          (reading): reading is LoadReading =>
            isLoadReading(reading) && reading.voidedReason === undefined && reading.stepId === stepId('gain', channel.id),
        )
        .sort(byTime)
        .at(-1);
      if (last === undefined || last.value <= 0) continue;
      const { toneHz, toneLevelDbfs, sourceVolume, load } = last.conditions;
      const filterDb = filtersDb(standingFilters(chain, channel, this.seed), toneHz);
      const bench = {
        volume: sourceVolume,
        knob: 0,
        loadConnected: load === 'on',
        toneHz,
        toneLevelDbfs,
        supplyVolt: SUPPLY_VOLT,
        filterDb,
      };
      this.gains.set(channel.id, knobFor(last.value, this.physics(chain, channel), bench));
    }
  }

  /** Does what a step's action says, with the vehicle as the chain describes it. */
  async follow(
    action: Action,
    step: StepReport,
    chain: Chain,
    settings: TuneSettings,
    _steps: readonly StepReport[] = [],
  ): Promise<Move[]> {
    switch (action.kind) {
      case 'read':
        return [await this.read(action.reading, step, chain, settings)];
      case 'capture':
        return [await this.capture(step, chain)];
      case 'tick':
        if (action.checks.includes('light-off')) this.setInputByItsLight(chain, step);
        return [
          {
            kind: 'mark',
            checks: action.checks,
            ...(action.basis === undefined ? {} : { basis: action.basis }),
            ...(action.basisWords === undefined ? {} : { basisWords: action.basisWords }),
          },
        ];
      case 'turn-gain':
      case 'turn-input':
      case 'turn-output':
        this.turn(action.kind, action.byDb, step, chain);
        return this.readAgain(step, chain, settings);
      case 'set-volume': {
        const { outputVolt: _output, ceilingVolt: _ceiling, ...source } = chain.source;
        return [{ kind: 'chain', chain: { ...chain, source: { ...source, ...(action.source as Partial<Source>) } } }];
      }
      case 'set-filter':
      case 'take-winding':
      case 'rewire': {
        const changes = (action.channel ?? {}) as Partial<Channel>;
        const channels = chain.channels.map((channel) => (channel.id === action.channelId ? { ...channel, ...changes } : channel));
        return [{ kind: 'chain', chain: { ...chain, channels } }];
      }
      case 'align':
        return [{ kind: 'chain', chain: alignedChain(chain, action) }];
      case 'void':
        return [{ kind: 'void', of: action.of, id: action.id }];
      case 'describe':
      case 'go':
        throw new Error(`${step.id}: only its owner can do this: ${JSON.stringify(action)}`);
    }
  }

  private async read(kind: string, step: StepReport, chain: Chain, settings: TuneSettings): Promise<Move> {
    const conditions = step.conditions;
    if (conditions === undefined) throw new Error(`${step.id} does not say under which conditions it is read`);
    if (conditions.at === 'ohm') {
      const meter = simulatedOhmmeter(() => this.ohms(step, conditions, chain), settings.meter, this.random);
      const { display, ohm } = await meter.read();
      return { kind: 'reading', reading: { kind, ...shown(display), value: Number.isFinite(ohm) ? ohm : 1e6, conditions } };
    }
    this.probed = this.probe(step, conditions, chain, kind);
    // One meter for the whole run: what it is off by stays the same.
    this.meter ??= simulatedMeter(() => this.probed!(), settings.meter, this.random);
    const { display } = await this.meter.read();
    return { kind: 'reading', reading: { kind, ...shown(display), conditions } };
  }

  private async capture(step: StepReport, chain: Chain): Promise<Move> {
    const { conditions } = step;
    if (conditions === undefined || conditions.at === 'ohm')
      throw new Error(`${step.id} does not say under which conditions it is captured`);
    const takesSweep = step.takes.some((intake) => intake.type === 'capture' && intake.judged === 'sweep');
    if (takesSweep) return this.sweep(step, conditions, chain);
    const { text } = await simulatedScope(this.probe(step, conditions, chain), this.random, { bits: 12, noise: 0.0005 }).capture();
    return { kind: 'capture', fileName: 'capture.csv', contentType: 'text/csv', content: text, conditions };
  }

  private sweep(step: StepReport, given: Exclude<Conditions, OhmConditions>, chain: Chain): Move {
    const sweep: SweepConditions = { fromHertz: 20, toHertz: 20_000, seconds: 5, labels: ['As heard'] };
    const { toneHz, toneLevelDbfs, sourceId, sourceName, sourceVolume, sourceInput, sourceSettings } = given;
    const conditions: LineConditions = {
      at: 'line',
      toneHz,
      toneLevelDbfs,
      sourceId,
      sourceName,
      sourceVolume,
      ...(sourceInput === undefined ? {} : { sourceInput }),
      ...(sourceSettings === undefined ? {} : { sourceSettings }),
      sweep: given.at === 'line' ? (given.sweep ?? sweep) : sweep,
      ...(given.at === 'line' && given.filter !== undefined ? { filter: given.filter } : {}),
    };
    const channel = this.channelOf(step, chain);
    const samples =
      channel === undefined
        ? recordedSweep(conditions.sweep ?? sweep, SAMPLE_RATE_HZ, sourceVolume, this.random, this.holdsBackFrom())
        : filterSweep(sweep, SAMPLE_RATE_HZ, standingFilters(chain, channel, this.seed), this.random);
    const content = encodeWav([samples], { sampleRateHz: SAMPLE_RATE_HZ, bits: 16 });
    return { kind: 'capture', fileName: 'sweep.wav', contentType: 'audio/wav', content, conditions };
  }

  /** From which step on the factory unit holds bass back, where the vehicle says so. */
  protected holdsBackFrom(): number | undefined {
    return undefined;
  }

  /** After a knob was turned, what the step takes is taken anew. */
  protected async readAgain(step: StepReport, chain: Chain, settings: TuneSettings): Promise<Move[]> {
    const reading = step.takes.find((intake) => intake.type === 'reading');
    const captures = step.takes.some(({ type }) => type === 'capture');
    return [
      ...(reading === undefined ? [] : [await this.read(reading.kind, step, chain, settings)]),
      ...(captures ? [await this.capture(step, chain)] : []),
    ];
  }

  protected turn(knob: 'turn-gain' | 'turn-input' | 'turn-output', byDb: number, step: StepReport, chain: Chain): void {
    if (knob === 'turn-output') {
      this.outputs.set(step.id, (this.outputs.get(step.id) ?? 0.5) + byDb / 24);
    } else if (knob === 'turn-input') {
      this.inputKnob += byDb / 24;
    } else {
      const channel = this.channelOf(step, chain);
      if (channel === undefined) throw new Error(`${step.id} has no gain`);
      const { highestGain, lowestGain } = this.physics(chain, channel);
      const knobNow = (this.gains.get(channel.id) ?? 0) + byDb / voltageRatioDb(highestGain, lowestGain);
      this.gains.set(channel.id, Math.max(0, Math.min(1, knobNow)));
    }
  }

  protected setInputByItsLight(chain: Chain, { conditions }: StepReport): void {
    const inputVolt = this.sourceVolt(chain, conditions === undefined || conditions.at === 'ohm' ? 0 : conditions.toneLevelDbfs);
    this.inputKnob = 0;
    while (this.inputKnob < 1 && !processorLevels({ inputVolt, inputKnob: this.inputKnob + 0.01, outputKnob: 0 }).lightOn)
      this.inputKnob += 0.01;
  }

  private sourceVolt(chain: Chain, toneLevelDbfs: number): number {
    return (sourcePhysics(chain).voltAtStep[chain.source.workingVolume] ?? 0) * 10 ** (toneLevelDbfs / 20);
  }

  private physics(chain: Chain, channel: Channel): ChannelPhysics {
    return this.made?.physicsOf(channel) ?? channelPhysics(chain, channel, this.seed);
  }

  /** Where the gain knob of a channel stands, from 0 to 1. */
  knobOf(channelId: string): number {
    return this.gains.get(channelId) ?? 0.1;
  }

  protected channelOf({ id }: StepReport, { channels }: Chain): Channel | undefined {
    const of = id.split(':')[1];
    return channels.find((channel) => channel.id === of || channel.filters?.some((filter) => filter.id === of) === true);
  }

  protected ohms(step: StepReport, { driverId, coil }: OhmConditions, chain: Chain): number {
    const channel = this.channelOf(step, chain);
    if (channel === undefined) return Infinity;
    const index = channel.drivers.findIndex(({ id }) => id === driverId);
    const probe =
      index === -1 ? ({ kind: 'whole', fault: 'none' } as const) : ({ kind: 'coil', name: `${driverLetter(index)}${coil ?? 1}` } as const);
    return probedOhm(channel, this.seed, probe);
  }

  private probe(step: StepReport, conditions: Exclude<Conditions, OhmConditions>, chain: Chain, reading?: string): Probe {
    const { toneHz } = conditions;
    const waveform = conditions.at === 'load' ? this.atLoad(step, conditions, chain, reading) : this.atLine(step, conditions, chain);
    return () => ({ waveform, toneHz });
  }

  /** @param reading - which of the step's readings the meter sits there for; none for a scope */
  protected atLoad(
    step: StepReport,
    { toneHz, toneLevelDbfs, sourceVolume, load }: LoadConditions,
    chain: Chain,
    _reading?: string,
  ): Waveform {
    const channel = this.channelOf(step, chain);
    if (channel === undefined) throw new Error(`${step.id} hangs on no channel`);
    const filterDb = filtersDb(standingFilters(chain, channel, this.seed), toneHz);
    return outputWaveform(this.physics(chain, channel), {
      volume: sourceVolume,
      // A little above its end, so that a filter shows something while the gain is at its lowest.
      knob: this.gains.get(channel.id) ?? 0.1,
      loadConnected: load === 'on',
      toneHz,
      toneLevelDbfs,
      supplyVolt: this.made?.supplyVolt ?? SUPPLY_VOLT,
      filterDb,
    });
  }

  protected atLine(step: StepReport, conditions: Exclude<Conditions, OhmConditions | LoadConditions>, chain: Chain): Waveform {
    const { toneHz, toneLevelDbfs, sourceVolume } = conditions;
    if (conditions.at === 'line' && conditions.processorId !== undefined) {
      const inputVolt = this.sourceVolt(chain, toneLevelDbfs);
      const { outputVolt } = processorLevels({ inputVolt, inputKnob: this.inputKnob, outputKnob: this.outputs.get(step.id) ?? 0.5 });
      const omega = 2 * Math.PI * toneHz;
      return (second: number) => Math.SQRT2 * outputVolt * Math.sin(omega * second);
    }
    const caseId = conditions.at === 'line' ? conditions.caseId : undefined;
    const settingsCase = sourceCases(chain.source).find(({ id }) => id === caseId);
    const liftDb = settingsCase === undefined ? 0 : caseLiftDb(settingsCase, toneHz, step.id.split(':')[1] as SourceOutput);
    return sourceWaveform(sourcePhysics(chain), { volume: sourceVolume, toneHz, toneLevelDbfs, liftDb });
  }
}

/** What a meter's display says: its figure, and the place value of its last digit. */
function shown(display: string): { value: number; resolution: number } {
  return { value: Number(display), resolution: 10 ** -(display.split('.')[1]?.length ?? 0) };
}
