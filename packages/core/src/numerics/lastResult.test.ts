import { describe, expect, it } from 'vitest';
import { lastResult } from './lastResult.ts';

describe('the last result', () => {
  const counted = () => {
    const kept = lastResult<number>();
    let made = 0;
    return (of: object, id: string, ...parts: unknown[]): number => kept(of, id, parts, () => (made += 1));
  };
  it('is kept while every part is the same one, and made anew where one is another', () => {
    const result = counted();
    const [of, part] = [{}, {}];
    expect([result(of, 'a', part, 1), result(of, 'a', part, 1), result(of, 'a', { ...part }, 1), result(of, 'a', part)]).toEqual([
      1, 1, 2, 3,
    ]);
  });
  it('is kept apart for each thing and each id', () => {
    const result = counted();
    const [one, two] = [{}, {}];
    expect([result(one, 'a'), result(two, 'a'), result(one, 'b'), result(one, 'a'), result(two, 'a')]).toEqual([1, 2, 3, 1, 2]);
  });
});
