import {
  bandwidthConditions,
  ceilingSubjects,
  channelCoils,
  channelsNow,
  coilConditions,
  crossoverFigures,
  curveConditions,
  DEFAULT_RULES,
  encodeWav,
  filterChecks,
  filtersBasis,
  filtersOf,
  kindOfStep,
  lineConditions,
  loadConditions,
  lookTones,
  meteredCoils,
  newSituation,
  outputConditions,
  outputSubjects,
  provedSettingNow,
  runOf,
  SHORT_SWEEP,
  sourceCases,
  sourceBasis,
  sourceControls,
  stepId,
  voltageFactor,
  voltageRatioDb,
  wiringConditions,
  type CaptureConditions,
  type Chain,
  type ChannelNow,
  type Conditions,
  type Reading,
  type Situation,
  type SourceInput,
  type SourceOutput,
  type StepMark,
  type TuneSettings,
} from '@yield/core';
import { simulatedMeter, simulatedOhmmeter, simulatedScope } from '../instruments.ts';
import { recordedSweep } from '../factoryUnit.ts';
import { heardCurve } from '../heardSweep.ts';
import { probedOhm, type OhmProbe } from '../load.ts';
import { caseLiftDb, sourcePhysics, sourceWaveform } from '../source.ts';
import { seededRandom, type Random } from '@yield/core';
import { channelPhysics, knobFor, outputWaveform, type BenchSettings, type ChannelPhysics } from '../vehicle.ts';
import { filtersDb, standingFilters } from '../standingFilters.ts';
import { CAMPER_TRAILER, LIBRARY_BUS, PUPPET_VAN, SCHOOL_CAR, WORKSHOP_METER } from './demoChains.ts';

/** A load that takes more off is worth another turn of the knob. */
const WORTH_A_TURN_DB = 0.2;

/** Known beforehand: making the tunes takes a while, and whoever has them need not. */
export const DEMO_IDS = [1, 2, 3, 4].map((n) => `3a6f0f52-6f0e-4c5b-9a54-1f6f2f6a000${n}`);

export interface DemoTune {
  id: string;
  name: string;
  vehicle: string;
  settings: TuneSettings;
  chain: Chain;
  readings: Reading[];
  marks: StepMark[];
  /** captures as the simulated scope wrote them; the server analyses them like any other */
  captures: DemoCapture[];
}

interface DemoCapture {
  id: string;
  stepId: string;
  fileName: string;
  contentType: 'text/csv' | 'audio/wav';
  content: string | Uint8Array;
  conditions: CaptureConditions;
  takenAt: string;
}

const MINUTE_MS = 60_000;

/**
 * Four jobs of a made-up workshop at different stages, with figures read off the simulated bench.
 *
 * @param nowMs - the present, in milliseconds since 1970; the readings lie in the days before
 */
export async function demoTunes(nowMs: number): Promise<DemoTune[]> {
  return [await libraryBus(nowMs), await schoolCar(nowMs), camperTrailer(), puppetVan(nowMs)];
}

function settings(toneLevelDbfs: number): TuneSettings {
  return { rules: { ...DEFAULT_RULES, toneLevelDbfs }, meter: WORKSHOP_METER, isPractice: true };
}

/** Loads metered and hooked up, gains set but one, the first proofs done. */
async function libraryBus(nowMs: number): Promise<DemoTune> {
  const tune: DemoTune = {
    id: DEMO_IDS[0]!,
    name: 'Mobile library bus',
    vehicle: 'Seven-metre bus, reading corner in the rear, 12 V',
    settings: settings(-3),
    chain: LIBRARY_BUS,
    readings: [],
    marks: [],
    captures: [],
  };
  const bench = new DemoBench(tune, nowMs - 2 * 24 * 60 * MINUTE_MS);
  await bench.meterLoads();
  bench.makeFlat('stick');
  bench.makeFlat('phone');
  await bench.findCeiling('preamp-front', 'flat', 31, 38);
  await bench.findCeiling('preamp-sub', 'flat', 31, 38);
  await bench.findCeiling('preamp-sub', 'sub-2', 31, 37);
  bench.confirmFilters();
  for (const filterId of ['front-left-hp', 'front-right-hp', 'reading-left-hp', 'reading-right-hp', 'bass-lp'])
    await bench.proveFilter(filterId);
  for (const channelId of ['front-left', 'front-right', 'reading-left']) {
    await bench.readGain(channelId, -2.1);
    await bench.readGain(channelId, 0);
  }
  await bench.readGain('reading-right', -0.9);
  for (const channelId of ['front-left', 'front-right']) {
    await bench.prove(channelId, 0);
    await bench.lookOverBand(channelId);
  }
  return tune;
}

/** All gains set, but the bass channel was driven too far: its capture is clipped. */
async function schoolCar(nowMs: number): Promise<DemoTune> {
  const tune: DemoTune = {
    id: DEMO_IDS[1]!,
    name: 'Driving-school car',
    vehicle: 'Small hatchback, dual controls',
    settings: settings(0),
    chain: SCHOOL_CAR,
    readings: [],
    marks: [],
    captures: [],
  };
  const bench = new DemoBench(tune, nowMs - 26 * 60 * MINUTE_MS);
  await bench.meterLoads();
  bench.makeFlat('phone');
  bench.captureSweep(10);
  bench.captureSweep(22);
  bench.setInput('front');
  bench.readOutput('out-left', 4);
  bench.readOutput('out-right', 3.98);
  bench.confirmFilters();
  for (const channelId of ['left', 'right', 'boot']) await bench.readGain(channelId, 0);
  await bench.prove('left', 0);
  await bench.lookOverBand('left');
  await bench.prove('boot', 2.2);
  return tune;
}

function camperTrailer(): DemoTune {
  return {
    id: DEMO_IDS[2]!,
    name: 'Camper trailer',
    vehicle: 'Trailer with awning speakers, own battery',
    settings: settings(0),
    chain: CAMPER_TRAILER,
    readings: [],
    marks: [],
    captures: [],
  };
}

/** Loads and source are still to come too: the place to plan crossovers at. Its bass was measured by another program before. */
function puppetVan(nowMs: number): DemoTune {
  const tune: DemoTune = {
    id: DEMO_IDS[3]!,
    name: 'Puppet theatre van',
    vehicle: 'Box van with a fold-out stage, 12 V',
    settings: settings(0),
    chain: PUPPET_VAN,
    readings: [],
    marks: [],
    captures: [],
  };
  const bench = new DemoBench(tune, nowMs - 3 * 60 * MINUTE_MS);
  for (const place of ['left ear', 'middle of the head', 'right ear']) bench.bringCurve('stage-bass', place);
  return tune;
}

/** Turns the knobs of the simulated vehicle and writes down what its instruments show. */
class DemoBench {
  private readonly tune: DemoTune;
  private readonly random: Random;
  private clockMs: number;
  private serial = 0;
  /** where each gain knob was left at its proof */
  private readonly knobs = new Map<string, number>();

  constructor(tune: DemoTune, startMs: number) {
    this.tune = tune;
    this.random = seededRandom(tune.id);
    this.clockMs = startMs;
  }

  /** As it stands with everything that was measured so far. */
  private get now(): Situation {
    const { chain, settings, readings, marks } = this.tune;
    return newSituation(chain, settings, { readings, traces: [], marks });
  }

  /** Meters every coil and every whole wiring, and ticks every hook-up. */
  async meterLoads(): Promise<void> {
    for (const subject of channelsNow(this.now)) {
      const { channel } = subject;
      if (channelCoils(channel).length > 1) {
        for (const coil of meteredCoils(this.now, channel))
          await this.readOhms(
            stepId('coils', channel.id),
            'coil-resistance',
            subject,
            { kind: 'coil', name: coil.name },
            coilConditions(coil, this.now),
          );
      }
      if (channel.drivers.length > 0) {
        const conditions = wiringConditions(subject, this.now);
        await this.readOhms(stepId('whole', channel.id), 'whole-resistance', subject, { kind: 'whole', fault: 'none' }, conditions);
      }
      this.tick(stepId('hookup', channel.id));
    }
  }

  /** Ticks everything that a step asks to be seen to, for what it stands for now. */
  private tick(id: string): void {
    const step = runOf(this.now, [kindOfStep(id)!]).find((each) => each.id === id);
    if (step?.checks === undefined) throw new Error(`nothing to tick in the demo: ${id}`);
    const { items, basis } = step.checks;
    if (this.tune.marks.some((mark) => mark.stepId === id)) return;
    this.tune.marks.push({
      stepId: id,
      checks: items.map((item) => item.id),
      ...(basis === undefined ? {} : { basis: basis.key, basisWords: basis.words }),
    });
  }

  /** Ticks everything neutral at one input. */
  makeFlat(input: SourceInput): void {
    const { source } = this.tune.chain;
    const { key, words } = sourceBasis(source);
    this.tune.marks.push({
      stepId: stepId('flat', input),
      checks: sourceControls(source).map(({ id }) => id),
      basis: key,
      basisWords: words,
    });
  }

  /** Goes up the volume a step at a time, with captures of the last three steps. */
  async findCeiling(output: SourceOutput, caseId: string, from: number, to: number): Promise<void> {
    const { chain, settings } = this.tune;
    const subject = ceilingSubjects(this.now).find((each) => each.output === output);
    const settingsCase = sourceCases(chain.source).find(({ id }) => id === caseId);
    if (subject === undefined || settingsCase === undefined) throw new Error(`no such ceiling in the demo: ${output}, ${caseId}`);
    const { toneHz } = subject;
    const id = stepId('ceiling', output);
    const { toneLevelDbfs } = settings.rules;
    const physics = sourcePhysics(chain);
    const liftDb = caseLiftDb(settingsCase, toneHz, output);
    for (let volume = from; volume <= to; volume += 1) {
      const probe = () => ({ waveform: sourceWaveform(physics, { volume, toneHz, toneLevelDbfs, liftDb }), toneHz });
      const conditions = { ...lineConditions(this.now, toneHz), sourceVolume: volume, caseId };
      const { display } = await simulatedMeter(probe, settings.meter, this.random).read();
      this.addReading(id, 'source-voltage', display, conditions);
      if (volume > to - 3) {
        const { text } = await simulatedScope(probe, this.random, { bits: 12, noise: 0.0005 }).capture();
        this.addCapture(id, `${output}-${caseId}-${volume}.csv`, 'text/csv', text, conditions);
      }
    }
  }

  /** Plays the set's short sweep through the factory unit at one volume, and records it. */
  captureSweep(volume: number): void {
    const sampleRateHz = 44_100;
    const recorded = recordedSweep(SHORT_SWEEP, sampleRateHz, volume, this.random);
    const conditions: CaptureConditions = {
      ...lineConditions(this.now, this.tune.settings.rules.otherToneHz),
      sourceVolume: volume,
      sweep: { ...SHORT_SWEEP, labels: ['Front left'] },
    };
    const wav = encodeWav([recorded], { sampleRateHz, bits: 16 });
    this.addCapture(stepId('factory', 'source'), `front-left-volume-${volume}.wav`, 'audio/wav', wav, conditions);
  }

  /** Brings the response of one channel at one place as a table. */
  bringCurve(channelId: string, place: string): void {
    const subject = this.channel(channelId);
    const rows = heardCurve(subject.channel, this.tune.id, place).map(({ hertz, db }) => `${hertz.toFixed(1)}\t${db.toFixed(2)}`);
    const text = [`* ${subject.channel.name}, ${place}: frequency in Hz, level in dB`, ...rows, ''].join('\n');
    const conditions = curveConditions(subject, this.now, place);
    this.addCapture(stepId('response', channelId), `${place.replaceAll(' ', '-')}.txt`, 'text/csv', text, conditions);
  }

  /** Ticks a processor's input as set by its light. */
  setInput(inputId: string): void {
    this.tick(stepId('input', inputId));
  }

  readOutput(outputId: string, volt: number): void {
    const subject = outputSubjects(this.now).find(({ output }) => output.id === outputId);
    if (subject === undefined) throw new Error(`no such output in the demo: ${outputId}`);
    this.addReading(stepId('output', outputId), 'output-voltage', volt.toFixed(2), outputConditions(subject, this.now));
  }

  private addReading(id: string, kind: string, display: string, conditions: Conditions): void {
    this.tune.readings.push({ id: this.nextId(), stepId: id, kind, ...shown(display), conditions, takenAt: this.later() });
  }

  private addCapture(
    id: string,
    fileName: string,
    contentType: DemoCapture['contentType'],
    content: string | Uint8Array,
    conditions: DemoCapture['conditions'],
  ): void {
    this.tune.captures.push({ id: this.nextId(), stepId: id, fileName, contentType, content, conditions, takenAt: this.later() });
  }

  private async readOhms(id: string, kind: string, { channel }: ChannelNow, probe: OhmProbe, conditions: Conditions): Promise<void> {
    const meter = simulatedOhmmeter(() => probedOhm(channel, this.tune.id, probe), this.tune.settings.meter, this.random);
    const { ohm } = await meter.read();
    this.tune.readings.push({ id: this.nextId(), stepId: id, kind, value: ohm, resolution: 0.1, conditions, takenAt: this.later() });
  }

  /** Ticks the filters of every channel. */
  confirmFilters(): void {
    const { chain, marks } = this.tune;
    for (const channel of chain.channels) {
      const checks = filterChecks(channel, chain).map(({ id }) => id);
      const { key, words } = filtersBasis(channel);
      marks.push({ stepId: stepId('filters', channel.id), checks, basis: key, basisWords: words });
    }
  }

  /** Reads the proposed voltages of one filter, as its dial really stands, in turn. */
  async proveFilter(filterId: string): Promise<void> {
    const { chain, settings, marks } = this.tune;
    const subject = channelsNow(this.now)
      .flatMap((each) => filtersOf(each.channel).map((filter) => ({ ...each, filter })))
      .find(({ filter }) => filter.id === filterId);
    if (subject === undefined) throw new Error(`no such filter in the demo: ${filterId}`);
    const id = stepId('crossover', filterId);
    marks.push({ stepId: id, checks: ['gain-low', 'drivers-off'] });
    const physics = channelPhysics(chain, subject.channel, this.tune.id);
    const standing = standingFilters(chain, subject.channel, this.tune.id);
    const meter = (toneHz: number) =>
      simulatedMeter(
        () => ({
          waveform: outputWaveform(physics, { ...this.usual(), knob: 0.1, toneHz, filterDb: filtersDb(standing, toneHz) }),
          toneHz,
        }),
        settings.meter,
        seededRandom(`${this.tune.id}/proof`),
      );
    for (const toneHz of crossoverFigures(subject, this.now).proposedHz) {
      const { display } = await meter(toneHz).read();
      const filter = provedSettingNow(subject.filter, 1);
      this.addReading(id, 'filter-voltage', display, { ...loadConditions(subject, this.now, 'off'), toneHz, filter });
    }
  }

  /** Sets a channel's gain, off the target by so many decibels, and reads it without load. */
  async readGain(channelId: string, offDb: number): Promise<void> {
    const subject = this.channel(channelId);
    const { physics, bench } = this.bench(subject, offDb, false);
    await this.read(stepId('gain', channelId), 'gain-voltage', physics, bench, loadConditions(subject, this.now, 'off'));
    this.tick(stepId('gain', channelId));
  }

  /** Proves a channel; where the load takes something off, the gain is set once more with that counted in, and proved again. */
  async prove(channelId: string, offDb: number): Promise<void> {
    await this.proveOnce(channelId, offDb);
    const newest = (id: string): number => this.tune.readings.filter(({ stepId: of }) => of === id).at(-1)?.value ?? 1;
    const sagDb = voltageRatioDb(newest(stepId('gain', channelId)), newest(stepId('proof', channelId)));
    if (sagDb < WORTH_A_TURN_DB || offDb !== 0) return;
    await this.readGain(channelId, sagDb);
    await this.proveOnce(channelId, sagDb);
  }

  /** Reads voltage and captures the trace under load. */
  private async proveOnce(channelId: string, offDb: number): Promise<void> {
    const subject = this.channel(channelId);
    const id = stepId('proof', channelId);
    const conditions = loadConditions(subject, this.now, 'on');
    const { physics, bench } = this.bench(subject, offDb, true);
    this.knobs.set(channelId, bench.knob);
    await this.read(id, 'loaded-voltage', physics, bench, conditions);
    const scope = simulatedScope(() => ({ waveform: outputWaveform(physics, bench), toneHz: bench.toneHz }), this.random);
    const { text } = await scope.capture();
    this.addCapture(id, `${channelId}-loaded.csv`, 'text/csv', text, conditions);
    this.tick(id);
  }

  /** Captures a proved channel at the other tones of its range, its gain where the proof left it. */
  async lookOverBand(channelId: string): Promise<void> {
    const subject = this.channel(channelId);
    const id = stepId('bandwidth', channelId);
    const physics = channelPhysics(this.tune.chain, subject.channel, this.tune.id);
    const standing = standingFilters(this.tune.chain, subject.channel, this.tune.id);
    for (const toneHz of lookTones(subject, this.now)) {
      const conditions = bandwidthConditions(subject, this.now, toneHz);
      const bench: BenchSettings = {
        ...this.usual(),
        knob: this.knobs.get(channelId) ?? 0.5,
        loadConnected: true,
        toneHz,
        toneLevelDbfs: conditions.toneLevelDbfs,
        filterDb: filtersDb(standing, toneHz),
      };
      const { text } = await simulatedScope(() => ({ waveform: outputWaveform(physics, bench), toneHz }), this.random).capture();
      this.addCapture(id, `${channelId}-${Math.round(toneHz)}-hz.csv`, 'text/csv', text, conditions);
    }
    this.tick(id);
  }

  private async read(id: string, kind: string, physics: ChannelPhysics, bench: BenchSettings, conditions: Conditions): Promise<void> {
    const probe = () => ({ waveform: outputWaveform(physics, bench), toneHz: bench.toneHz });
    const { display } = await simulatedMeter(probe, this.tune.settings.meter, this.random).read();
    this.addReading(id, kind, display, conditions);
  }

  private channel(channelId: string): ChannelNow {
    const subject = channelsNow(this.now).find(({ channel }) => channel.id === channelId);
    if (subject === undefined) throw new Error(`no such channel in the demo: ${channelId}`);
    return subject;
  }

  private bench(
    { channel, toneHz, target }: ChannelNow,
    offDb: number,
    loadConnected: boolean,
  ): { physics: ChannelPhysics; bench: BenchSettings } {
    const physics = channelPhysics(this.tune.chain, channel, this.tune.id);
    const standing = standingFilters(this.tune.chain, channel, this.tune.id);
    const bench: BenchSettings = { ...this.usual(), loadConnected, toneHz, filterDb: filtersDb(standing, toneHz) };
    const wanted = (target?.settingVoltage ?? 1) * voltageFactor(offDb);
    return { physics, bench: { ...bench, knob: knobFor(wanted, physics, { ...bench, loadConnected: false }) } };
  }

  private usual(): BenchSettings {
    const { chain, settings } = this.tune;
    return {
      volume: chain.source.workingVolume,
      knob: 0.5,
      loadConnected: false,
      toneHz: settings.rules.otherToneHz,
      toneLevelDbfs: settings.rules.toneLevelDbfs,
      supplyVolt: 13.8,
    };
  }

  private later(): string {
    this.clockMs += 3 * MINUTE_MS;
    return new Date(this.clockMs).toISOString();
  }

  private nextId(): string {
    this.serial += 1;
    return `${this.tune.id.slice(0, -4)}${this.tune.id.slice(-1)}${this.serial.toString().padStart(3, '0')}`;
  }
}

/** What a meter's display says: its figure, and the place value of its last digit. */
function shown(display: string): { value: number; resolution: number } {
  return { value: Number(display), resolution: 10 ** -(display.split('.')[1]?.length ?? 0) };
}
