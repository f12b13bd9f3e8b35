import {
  voltageRatioDb,
  type Action,
  type Chain,
  type Channel,
  type Conditions,
  type LoadConditions,
  type OhmConditions,
  type StepReport,
  type TuneSettings,
} from '@yield/core';
import { ScriptedTuner, type Move } from '../tuner.ts';
import type { Waveform } from '../waveform.ts';
import { Car, LOWEST_INPUT_DB, type Played } from './car.ts';
import { rmsOf, waveOf } from './cycle.ts';

/** Does only what actions say, at a whole car: its knobs turn in clicks, its parts are mended where its tuner is sent to them. */
export class CarTuner extends ScriptedTuner {
  readonly car: Car;
  /** what the run asked somebody to see to that no figure answers, in order */
  readonly asked: string[] = [];
  private readonly mend: (what: string, channelId: string | undefined) => boolean;

  /** @param mend - sees to what was asked for; false where there is nothing that can be mended */
  constructor(seed: string, car: Car, mend: (what: string, channelId: string | undefined) => boolean) {
    super(seed);
    this.car = car;
    this.mend = mend;
  }

  override async follow(
    action: Action,
    step: StepReport,
    chain: Chain,
    settings: TuneSettings,
    steps: readonly StepReport[] = [],
  ): Promise<Move[]> {
    if (action.kind !== 'describe' && !(action.kind === 'rewire' && action.channel === undefined))
      return super.follow(action, step, chain, settings);
    const what = action.kind === 'describe' ? action.what : 'rewire';
    const channel = this.channelOf(step, chain);
    this.asked.push(`${step.id} ${what}`);
    if (!this.mend(what, channel?.id)) throw new Ended(`${step.id} asks for “${what}”`);
    // Set flat, a channel's gain is another one: it is read first.
    const isOfGain = what === 'tone-shaping' && step.id.startsWith('bandwidth');
    const gain = isOfGain && channel !== undefined ? steps.find(({ id }) => id === `gain:${channel.id}`) : undefined;
    if (gain !== undefined) return (await this.readAgain(gain, chain, settings)).map((move) => ({ ...move, at: gain.id }));
    // Mended: what the step takes is taken anew.
    return this.readAgain(step, chain, settings);
  }

  protected override ohms(step: StepReport, conditions: OhmConditions, chain: Chain): number {
    const channel = this.channelOf(step, chain);
    if (channel === undefined || conditions.driverId !== undefined) return super.ohms(step, conditions, chain);
    return this.car.copperOhm(channel);
  }

  protected override atLoad(step: StepReport, conditions: LoadConditions, chain: Chain, reading?: string): Waveform {
    const channel = this.channelOf(step, chain);
    if (channel === undefined) throw new Error(`${step.id} hangs on no channel`);
    const played = playedOf(conditions);
    const isLoaded = reading === 'pair-unloaded' ? false : reading === 'pair-loaded' || conditions.load === 'on';
    if (reading === 'supply-rest') return steady(this.car.supplyVolt(chain, channel, undefined));
    if (reading === 'supply-loaded') return steady(this.car.supplyVolt(chain, channel, played));
    if (reading === 'clamp-current') return steady(this.car.loadAmpere(chain, channel, played));
    return waveOf(this.car.terminals(chain, channel, played, isLoaded), conditions.toneHz);
  }

  protected override holdsBackFrom(): number | undefined {
    return this.car.real.source.holdsBackFrom ?? Infinity;
  }

  protected override atLine(step: StepReport, conditions: Exclude<Conditions, OhmConditions | LoadConditions>, chain: Chain): Waveform {
    const played = playedOf(conditions);
    const outputId = outputOf(step, chain);
    // The source's own amplifier plays from its speaker outputs.
    const own = chain.amplifiers.find(({ isInSource }) => isInSource === true);
    const heard = own === undefined ? undefined : chain.channels.find(({ amplifierId }) => amplifierId === own.id);
    if (heard !== undefined) return waveOf(this.car.terminals(chain, heard, played, true), conditions.toneHz);
    const cycle =
      conditions.at === 'line' && conditions.processorId !== undefined
        ? this.car.output(chain, outputId ?? chain.processor!.outputs[0]!.id, played)
        : this.car.source(played);
    return waveOf(cycle, conditions.toneHz);
  }

  protected override turn(knob: 'turn-gain' | 'turn-input' | 'turn-output', byDb: number, step: StepReport, chain: Chain): void {
    const { car } = this;
    if (knob === 'turn-input') car.inputDb = Math.max(LOWEST_INPUT_DB, Math.min(12, car.inputDb + byDb));
    else if (knob === 'turn-output') {
      const id = outputOf(step, chain) ?? '';
      car.outputsDb.set(id, Math.max(-40, Math.min(12, (car.outputsDb.get(id) ?? 0) + byDb)));
    } else {
      const channel = this.channelOf(step, chain);
      if (channel === undefined) throw new Error(`${step.id} has no gain`);
      const { highestGain, lowestGain } = car.real.amplifierOf[channel.amplifierId]!;
      const now = (car.gains.get(channel.id) ?? 0.1) + byDb / voltageRatioDb(highestGain, lowestGain);
      car.gains.set(channel.id, Math.max(0, Math.min(1, now)));
    }
  }

  protected override setInputByItsLight(_chain: Chain, { id, conditions }: StepReport): void {
    if (conditions === undefined || conditions.at === 'ohm') throw new Error(`${id} does not say which tone is played`);
    const played = playedOf(conditions);
    this.car.inputDb = LOWEST_INPUT_DB;
    while (this.car.inputDb < 12 && !this.car.isInputClipped(played)) this.car.inputDb += 0.5;
    this.car.inputDb -= 0.5;
  }
}

/** The run went as far as it goes: it asks for what nobody can give. */
export class Ended extends Error {}

const playedOf = ({ sourceVolume, toneHz, toneLevelDbfs }: Exclude<Conditions, OhmConditions>): Played => ({
  volume: sourceVolume,
  toneHz,
  toneLevelDbfs,
});

/** What a meter on a steady figure reads: a wave of this RMS. */
const steady =
  (value: number): Waveform =>
  () =>
    value;

function outputOf({ id }: StepReport, { processor }: Chain): string | undefined {
  return processor?.outputs.find((output) => id.split(':')[1] === output.id)?.id;
}

/** RMS at a channel's terminals, under its load. */
export const levelOf = (car: Car, chain: Chain, channel: Channel, played: Played): number =>
  rmsOf(car.terminals(chain, channel, played, true));
