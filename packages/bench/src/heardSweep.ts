import {
  channelGroups,
  filtersOf,
  octavePoints,
  groupDb,
  seededRandom,
  SWEEP_FADE_SECOND,
  toneSamples,
  biquad,
  type Channel,
  type EqualiserFilter,
  type Random,
  type SweepSpec,
} from '@yield/core';
import { throughFilters } from './filterSweep.ts';

/** Quiet enough for a recorder, far below its rails. */
const LEVEL = 0.08;
const LEAD_SECOND = 0.4;
/** A street outside: hiss, and a rumble below a corner. */
const HISS = 3e-5;
const RUMBLE = 4e-3;
const RUMBLE_HZ = 40;
/** A cone that moves a little further one way than the other. */
const BEND = 0.015;
const REFLECTIONS = 2;

/**
 * What glass and seats make of one channel at one place of the microphone: what is of the cabin is alike at all places, what is of the
 * place is not.
 *
 * @param seed - the vehicle's; the same one behaves the same
 */
export function cabinBands(seed: string, channelId: string, place: string, band: Channel['band']): EqualiserFilter[] {
  const cabin = seededRandom(`${seed}/${channelId}/cabin`);
  const spot = seededRandom(`${seed}/${channelId}/${place}`);
  const between = (random: Random, low: number, high: number): number => low + (high - low) * random.uniform();
  const low = band === 'bass';
  const peak = (frequencyHz: number, gainDb: number, q: number): EqualiserFilter => ({ kind: 'peak', frequencyHz, gainDb, q });
  return [
    peak(between(cabin, 38, 52), between(cabin, 4, 8), between(cabin, 2, 4)),
    peak(between(cabin, 90, 160), between(cabin, -5, 5), between(cabin, 1.5, 3)),
    ...(low
      ? []
      : [
          peak(between(cabin, 250, 900), between(cabin, 3, 6), between(cabin, 1, 2)),
          peak(between(cabin, 1500, 5000), between(cabin, -5, 5), 1.2),
        ]),
    peak(between(spot, 65, 110), between(spot, -9, -2), between(spot, 4, 7)),
    { kind: 'low-shelf', frequencyHz: 60, gainDb: between(cabin, 2, 6), q: 0.7 },
  ];
}

/** A sweep through one channel as it is set, heard in a made-up cabin by a microphone at one place. */
export function heardSweep(sweep: SweepSpec, sampleRateHz: number, channel: Channel, seed: string, place: string): Float64Array {
  const random = seededRandom(`${seed}/${channel.id}/${place}/noise`);
  const shape = { kind: 'sweep', fromHertz: sweep.fromHertz, toHertz: sweep.toHertz } as const;
  const played = toneSamples({ shape, levelDbfs: 0, seconds: sweep.seconds, sampleRateHz, fadeSecond: SWEEP_FADE_SECOND });
  const bands = [...(channel.equaliser ?? []), ...cabinBands(seed, channel.id, place, channel.band)];
  const direct = bands.reduce(
    (row, band) => throughBand(row, band, sampleRateHz),
    throughFilters(played, filtersOf(channel), sampleRateHz),
  );
  const lead = Math.round(LEAD_SECOND * sampleRateHz);
  const heard = new Float64Array(played.length + 2 * lead);
  for (let path = 0; path <= REFLECTIONS; path += 1) {
    const late = lead + (path === 0 ? 0 : Math.round((0.002 + 0.004 * random.uniform()) * sampleRateHz));
    const share = LEVEL * (path === 0 ? 1 : 0.04);
    for (let n = 0; n < direct.length; n += 1) heard[late + n]! += share * (direct[n]! + BEND * direct[n]! ** 2);
  }
  const pace = (2 * Math.PI * RUMBLE_HZ) / sampleRateHz;
  let rumble = 0;
  for (let n = 0; n < heard.length; n += 1) {
    const noise = random.normal();
    rumble += pace * (RUMBLE * noise - rumble);
    heard[n]! += HISS * noise + rumble;
  }
  return heard;
}

/** The same as a table, as another program would write it: level of the channel at one place over frequency. */
export function heardCurve(channel: Channel, seed: string, place: string): { hertz: number; db: number }[] {
  const bands = [...(channel.equaliser ?? []), ...cabinBands(seed, channel.id, place, channel.band)];
  const groups = channelGroups({ ...channel, equaliser: bands });
  return octavePoints(20, 16_000, 12).map((hertz) => ({
    hertz,
    db: 20 * Math.log10(LEVEL) + Math.max(...groups.map((group) => groupDb(group, hertz))),
  }));
}

const NOISE_DB = 78;

/**
 * What a sound meter shows at the listener's head while pink noise plays through one channel as it is set, in dB.
 *
 * @param seed - the vehicle's: sides differ by a little, as they do
 */
export function pinkLevelDb(channel: Channel, seed: string): number {
  const bands = [...(channel.equaliser ?? []), ...cabinBands(seed, channel.id, 'middle of the head', channel.band)];
  const groups = channelGroups({ ...channel, equaliser: bands });
  const power = octavePoints(25, 16_000, 6).reduce(
    (sum, hertz) => sum + Math.max(...groups.map((group) => 10 ** (groupDb(group, hertz) / 10))),
    0,
  );
  const side = 1.2 * (seededRandom(`${seed}/${channel.id}/side`).uniform() - 0.5);
  return NOISE_DB + 10 * Math.log10(power / 6) - (channel.blendDb ?? 0) + side;
}

function throughBand(samples: Float64Array, band: EqualiserFilter, sampleRateHz: number): Float64Array {
  const { b, a } = biquad(band, sampleRateHz);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  const [b0, b1, b2, a1, a2] = [b[0] / a[0], b[1] / a[0], b[2] / a[0], a[1] / a[0], a[2] / a[0]];
  const out = new Float64Array(samples.length);
  for (let n = 0; n < samples.length; n += 1) {
    const x = samples[n]!;
    const y = b0 * x + b1 * x1 + b2 * x2 - a1 * y1 - a2 * y2;
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
    out[n] = y;
  }
  return out;
}
