import { describe, expect, it } from 'vitest';
import { PLACES, searchSound, type Answers } from './noSound.ts';

describe('the search for a lost signal', () => {
  it.each(PLACES.map((place, i) => [place, i] as const))('finds that nothing arrives at %s in three looks at most', (place, broken) => {
    let answers: Answers = {};
    let looks = 0;
    for (;;) {
      const { next, lost } = searchSound(PLACES, answers);
      if (next === undefined) {
        expect(lost).toEqual({ at: place, ...(broken === 0 ? {} : { before: PLACES[broken - 1] }) });
        break;
      }
      looks += 1;
      answers = { ...answers, [next]: PLACES.indexOf(next) < broken };
    }
    expect(looks).toBeLessThanOrEqual(3);
  });
  it('says where all is there, and where answers contradict each other', () => {
    const all = Object.fromEntries(PLACES.map((place) => [place, true])) as Answers;
    expect(searchSound(PLACES, all)).toEqual({ lost: { before: 'coil' } });
    expect(searchSound(PLACES, { source: false, 'amplifier-in': true })).toEqual({
      next: 'source',
      contradiction: { nothing: 'source', something: 'amplifier-in' },
    });
  });
});
