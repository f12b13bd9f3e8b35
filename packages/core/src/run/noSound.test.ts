import { describe, expect, it } from 'vitest';
import { searchSound, type Answers, type Place } from './noSound.ts';

const PLACES = (['source', 'processor-in', 'processor-out', 'amplifier-in', 'amplifier-out', 'coil'] as const).map((id): Place => ({
  id,
  name: `At ${id}`,
  look: '',
}));

describe('the search for a lost signal', () => {
  it.each(PLACES.map(({ id }, i) => [id, i] as const))('finds that nothing arrives at %s in three looks at most', (_id, broken) => {
    let answers: Answers = {};
    let looks = 0;
    for (;;) {
      const { next, lost } = searchSound(PLACES, answers);
      if (next === undefined) {
        expect(lost!.words).toContain(broken === 0 ? 'never leaves' : `at ${PLACES[broken]!.id}`);
        break;
      }
      looks += 1;
      answers = { ...answers, [next.id]: PLACES.indexOf(next) < broken };
    }
    expect(looks).toBeLessThanOrEqual(3);
  });
  it('says where all is there, and where answers contradict each other', () => {
    const all = Object.fromEntries(PLACES.map(({ id }) => [id, true])) as Answers;
    expect(searchSound(PLACES, all).lost!.words).toContain('all the way');
    const { contradiction, next } = searchSound(PLACES, { source: false, 'amplifier-in': true });
    expect([next!.id, contradiction]).toEqual(['source', expect.stringContaining('look again')]);
  });
});
