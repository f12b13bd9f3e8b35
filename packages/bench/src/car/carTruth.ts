import { filterAt, filtersOf, pairsOf, voltageFactor, type Chain, type Channel, type HouseRules } from '@yield/core';
import type { Car } from './car.ts';
import { rmsOf, thdOf } from './cycle.ts';

/** Where a channel really stands at the end, over its whole band. */
export interface ChannelTruth {
  channelId: string;
  /** worst over the band, of a full-scale tone at the working volume under load, in percent */
  thdPercent: number;
  atHz: number;
  /** against the highest level that is clean over the band and within plate and drivers, in dB */
  missDb: number;
}

const BASS_BAND_HZ = [25, 30, 35, 40, 50, 63, 80, 90, 100, 110, 125];
const FULL_BAND_HZ = [80, 100, 125, 200, 400, 1000, 2500, 5000, 10_000];
/** What the filters take off more than this lies outside of a channel's band. */
const BAND_DB = -3.5;

/** What the filters take off a tone, in dB. */
const lossAt = (channel: Channel, hertz: number): number => filtersOf(channel).reduce((sum, filter) => sum + filterAt(filter, hertz).db, 0);

/** Where they let most through. */
const peakOf = (channel: Channel): number => Math.max(...[...BASS_BAND_HZ, ...FULL_BAND_HZ].map((hertz) => lossAt(channel, hertz)));

/** The tones of a channel's own band: what its filters let through. */
export function bandOf(channel: Channel): number[] {
  const all = channel.band === 'bass' ? BASS_BAND_HZ : FULL_BAND_HZ;
  return all.filter((hertz) => lossAt(channel, hertz) > BAND_DB);
}

/** Levels are held against each other at the tone that sets the channel: what it draws there, and what its plates say, is of one tone. */
const levelToneOf = (channel: Channel, rules: HouseRules): number =>
  channel.toneHz ?? (channel.band === 'bass' ? rules.bassToneHz : rules.otherToneHz);

/** @param rules - the house's: which distortion counts, and what is kept as headroom */
export function truthOf(car: Car, chain: Chain, channel: Channel, rules: HouseRules): ChannelTruth {
  const tones = bandOf(channel);
  const volume = chain.source.workingVolume;
  const at = (toneHz: number) => car.terminals(chain, channel, { volume, toneHz, toneLevelDbfs: 0 }, true);
  let worst = { thdPercent: 0, atHz: 0 };
  for (const toneHz of tones) {
    const thdPercent = thdOf(at(toneHz));
    if (thdPercent > worst.thdPercent) worst = { thdPercent, atHz: toneHz };
  }
  const level = rmsOf(at(levelToneOf(channel, rules)));
  // Left and right, or two amplifiers at one driver, go together: the weaker one says how far.
  const pair = channel.differsFromPair === true ? undefined : pairsOf(chain).get(channel.id);
  const best = Math.min(...[channel, ...(pair === undefined ? [] : [pair])].map((each) => bestOf(car, chain, each, rules, bandOf(each))));
  return { channelId: channel.id, ...worst, missDb: 20 * Math.log10(level / best) };
}

/** The highest clean level by turning this channel's gain alone, within what plate and drivers allow. */
function bestOf(car: Car, chain: Chain, channel: Channel, rules: HouseRules, tones: readonly number[]): number {
  const { limitThdPercent, headroomDb } = rules;
  if (chain.amplifiers.find(({ id }) => id === channel.amplifierId)?.isInSource === true)
    return bestStepOf(car, chain, channel, rules, tones);
  const kept = car.gains.get(channel.id);
  const amplifier = chain.amplifiers.find(({ id }) => id === channel.amplifierId)!;
  const rating = amplifier.ratings.find(({ mode, loadOhm }) => mode === channel.mode && loadOhm === channel.loadOhm);
  // By scope the plate counts for nothing: what stays clean is what there is.
  const plateWatt = rules.gainBy === 'scope' ? Infinity : (rating?.powerWatt ?? Infinity);
  const drivers = channel.drivers.reduce((sum, { ratedPowerWatt }) => sum + ratedPowerWatt, 0);
  const allowed =
    Math.sqrt(Math.min(plateWatt, drivers) * channel.loadOhm) *
    voltageFactor(-headroomDb + lossAt(channel, levelToneOf(channel, rules)) - peakOf(channel));
  const cleanAt = (knob: number, limitPercent = limitThdPercent): number | undefined => {
    car.gains.set(channel.id, knob);
    const played = tones.map((toneHz) => ({ volume: chain.source.workingVolume, toneHz, toneLevelDbfs: 0 }));
    const cycles = played.map((each) => car.terminals(chain, channel, each, true));
    const level = rmsOf(
      car.terminals(chain, channel, { volume: chain.source.workingVolume, toneHz: levelToneOf(channel, rules), toneLevelDbfs: 0 }, true),
    );
    return level > allowed || cycles.some((cycle) => thdOf(cycle) > limitPercent) ? undefined : level;
  };
  // A source that is itself just over the limit leaves no clean level to compare with: what is clean but for that is.
  const best = bestKnob((knob) => cleanAt(knob)) ?? bestKnob((knob) => cleanAt(knob, DIRTY_RATIO * limitThdPercent));
  if (kept === undefined) car.gains.delete(channel.id);
  else car.gains.set(channel.id, kept);
  // Turned all the way, or limited by what is allowed: that is what can be had.
  return best ?? allowed;
}

/** What a scope of twelve bits is off by, where the limit is one percent. */
const DIRTY_RATIO = 1.3;

/** The level at the highest knob that has one: more gain is never cleaner, so it is found by halves. */
function bestKnob(levelAt: (knob: number) => number | undefined): number | undefined {
  const top = levelAt(1);
  if (top !== undefined) return top;
  let [low, high] = [0, 1];
  for (let turn = 0; turn < 12; turn += 1) {
    const middle = (low + high) / 2;
    if (levelAt(middle) === undefined) high = middle;
    else low = middle;
  }
  return levelAt(low);
}

/** The source's own amplifier has no gain: its highest clean level is that of a volume step. */
function bestStepOf(car: Car, chain: Chain, channel: Channel, rules: HouseRules, tones: readonly number[]): number {
  const cycleAt = (volume: number, toneHz: number) => car.terminals(chain, channel, { volume, toneHz, toneLevelDbfs: 0 }, true);
  for (let volume = chain.source.volumeSteps; volume > 1; volume -= 1)
    if (tones.every((toneHz) => thdOf(cycleAt(volume, toneHz)) <= rules.limitThdPercent))
      return rmsOf(cycleAt(volume, levelToneOf(channel, rules)));
  return rmsOf(cycleAt(1, levelToneOf(channel, rules)));
}
