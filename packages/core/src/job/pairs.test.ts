import { describe, expect, it } from 'vitest';
import type { Channel } from './chain.ts';
import { channelLike, otherSide } from './copies.ts';
import { pairsOf } from './pairs.ts';

const channel = (id: string, changes: Partial<Channel> = {}): Channel => ({
  id,
  name: id,
  amplifierId: 'amp',
  mode: 'stereo',
  terminals: id,
  band: 'full-range',
  loadOhm: 4,
  drivers: [{ id: `d-${id}`, name: 'x', coils: 1, coilOhm: 4, ratedPowerWatt: 50, role: 'woofer' }],
  ...changes,
});
const chain = (...channels: Channel[]) => ({
  source: { name: 'x', volumeSteps: 30, workingVolume: 20, volumeBasis: 'assumed' as const },
  amplifiers: [],
  channels,
});
const pairs = (...channels: Channel[]): Record<string, string> =>
  Object.fromEntries([...pairsOf(chain(...channels))].map(([id, { id: other }]) => [id, other]));
const tweeter = { drivers: [{ id: 't', name: 't', coils: 1 as const, coilOhm: 4, ratedPowerWatt: 50, role: 'tweeter' as const }] };

describe('pairs of channels', () => {
  it('are neighbours of one range on one amplifier', () => {
    expect(pairs(channel('fl'), channel('fr'), channel('rl'), channel('rr'))).toEqual({ fl: 'fr', fr: 'fl', rl: 'rr', rr: 'rl' });
    expect(pairs(channel('wl'), channel('tl', tweeter), channel('wr'), channel('tr', tweeter))).toEqual({
      wl: 'wr',
      wr: 'wl',
      tl: 'tr',
      tr: 'tl',
    });
  });
  it('are what is left over, where one side was entered otherwise', () => {
    expect(pairs(channel('left'), channel('right', tweeter))).toEqual({ left: 'right', right: 'left' });
  });
  it('are as somebody says, or none', () => {
    expect(pairs(channel('a'), channel('b'), channel('c', { pairedWith: 'a' }))).toEqual({ a: 'c', c: 'a' });
    expect(pairs(channel('a', { pairedWith: 'none' }), channel('b'))).toEqual({});
    expect(pairs(channel('a', { mode: 'bridged' }), channel('b', { mode: 'bridged' }))).toEqual({});
  });
});

describe('a copy for the other side', () => {
  it.each([
    ['Front left', 'Front right'],
    ['A right', 'A left'],
    ['CH1 L', 'CH1 R'],
    ['Bass', 'Bass 2'],
    ['Bass 2', 'Bass 3'],
    ['Leftover', 'Leftover 2'],
  ])('%s becomes %s', (name, other) => expect(otherSide(name)).toBe(other));
  it('has ids of its own, and its parts follow its drivers', () => {
    let serial = 0;
    const left = channel('left', {
      processorOutputId: 'out',
      filters: [{ id: 'f', place: 'amplifier', kind: 'highpass', family: 'butterworth', order: 2, cornerHz: 80 }],
      passive: [{ id: 'p', driverId: 'd-left', kind: 'highpass', capacitanceFarad: 1e-5 }],
    });
    const right = channelLike(left, () => `n${(serial += 1)}`);
    expect(right).toMatchObject({ pairedWith: 'left', passive: [{ driverId: right.drivers[0]!.id }] });
    expect(right.processorOutputId).toBeUndefined();
    const ids = [right.id, right.drivers[0]!.id, right.filters![0]!.id, right.passive![0]!.id];
    expect(new Set(ids).size).toBe(4);
    expect(ids.some((id) => ['left', 'd-left', 'f', 'p'].includes(id))).toBe(false);
  });
});
