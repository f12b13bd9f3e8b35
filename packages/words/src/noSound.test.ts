import { PLACES, type Chain, type Place } from '@yield/core';
import { describe, expect, it } from 'vitest';
import { lostWords, placeWords, searchContradiction } from './noSound.ts';

const CHAIN: Chain = {
  source: { name: 'Unit', volumeSteps: 40, workingVolume: 30, volumeBasis: 'measured' },
  amplifiers: [{ id: 'a', name: 'Four channels', ratings: [] }],
  channels: [{ id: 'l', name: 'Left', amplifierId: 'a', mode: 'stereo', terminals: 'L', band: 'full-range', loadOhm: 4, drivers: [] }],
};
const nameOf = (place: Place): string => placeWords(place, CHAIN.channels[0]!, CHAIN).name;

describe('the words of the search for a lost signal', () => {
  it('name every place of this channel', () => {
    const names = PLACES.map(nameOf);
    expect(new Set(names).size).toBe(PLACES.length);
    expect(nameOf('amplifier-in')).toContain('Four channels');
    expect(nameOf('amplifier-out')).toContain('L');
  });
  it('say between which places it is lost, and what to check there', () => {
    expect(lostWords({ at: 'source' }, nameOf).text).toContain('never leaves');
    const lost = lostWords({ before: 'source', at: 'amplifier-in' }, nameOf);
    expect(lost.text).toContain('at the source’s plug');
    expect(lost.text).toContain('at the input of Four channels');
    expect(lost.next).toContain('cable to the amplifier');
    expect(lostWords({ before: 'coil' }, nameOf).text).toContain('all the way');
    expect(searchContradiction({ nothing: 'source', something: 'coil' }, nameOf)).toContain('look again at the first');
  });
});
