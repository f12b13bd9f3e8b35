import { describe, expect, it } from 'vitest';
import type { Chain } from './chain.ts';
import { changesBetween, inverseOf, withChanges } from './chainChanges.ts';

const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [
    { id: 'a', name: 'Front', ratings: [{ mode: 'stereo', loadOhm: 4, powerWatt: 100 }], minimumStereoOhm: 2 },
    { id: 'b', name: 'Bass', ratings: [] },
  ],
  channels: ['left', 'right'].map((id) => ({
    id,
    name: id,
    amplifierId: 'a',
    mode: 'stereo',
    terminals: id,
    band: 'full-range',
    loadOhm: 4,
    drivers: [{ id: `d-${id}`, name: 'Door', coils: 1, coilOhm: 4, ratedPowerWatt: 100 }],
  })),
};
const renamed = (chain: Chain, name: string): Chain => ({ ...chain, source: { ...chain.source, name } });
const withoutBass = (chain: Chain): Chain => ({ ...chain, amplifiers: chain.amplifiers.filter(({ id }) => id !== 'b') });

describe('the changes of a chain', () => {
  it.each<[string, Chain]>([
    ['a name', renamed(CHAIN, 'Other')],
    ['an amplifier taken out', withoutBass(CHAIN)],
    ['the first channel taken out', { ...CHAIN, channels: CHAIN.channels.slice(1) }],
    ['a field that was not there', { ...CHAIN, source: { ...CHAIN.source, outputVolt: 3 } }],
    ['a processor put in', { ...CHAIN, processor: { name: 'P', inputs: [], outputs: [], outputVolt: 4, hasClipLight: true } }],
    [
      'a driver’s figure',
      { ...CHAIN, channels: CHAIN.channels.map((c) => ({ ...c, drivers: c.drivers.map((d) => ({ ...d, coilOhm: 2 })) })) },
    ],
    ['nothing', structuredClone(CHAIN)],
  ])('lead there and back: %s', (_, after) => {
    const changes = changesBetween(CHAIN, after);
    expect(withChanges(CHAIN, changes)).toEqual(after);
    expect(withChanges(after, inverseOf(changes))).toEqual(CHAIN);
  });

  it('taken back leave what was edited in between', () => {
    const changes = changesBetween(CHAIN, withoutBass(CHAIN));
    const later = renamed(withoutBass(CHAIN), 'Edited in between');
    expect(withChanges(later, inverseOf(changes))).toEqual(renamed(CHAIN, 'Edited in between'));
  });

  it('made in two windows stand together where they touch different fields', () => {
    const mine = changesBetween(CHAIN, renamed(CHAIN, 'Mine'));
    const theirs = { ...CHAIN, channels: CHAIN.channels.map((c) => (c.id === 'left' ? { ...c, loadOhm: 2 } : c)) };
    expect(withChanges(theirs, mine)).toEqual(renamed(theirs, 'Mine'));
  });

  it('of something that is gone meanwhile are left out', () => {
    const louder = changesBetween(CHAIN, {
      ...CHAIN,
      amplifiers: CHAIN.amplifiers.map((a) => (a.id === 'b' ? { ...a, fuseAmpere: 40 } : a)),
    });
    expect(withChanges(withoutBass(CHAIN), louder)).toEqual(withoutBass(CHAIN));
  });
});
