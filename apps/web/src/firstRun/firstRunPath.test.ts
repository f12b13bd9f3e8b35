import type { RunStep } from '@yield/core';
import { describe, expect, it } from 'vitest';
import { firstRunPath } from './firstRunPath.ts';

type Status = 'open' | 'done' | 'skipped' | 'stale';
const step = (kind: string, status: Status, isCounted = true): RunStep =>
  ({ id: kind, kind: { kind }, isCounted, state: { status } }) as unknown as RunStep;

describe('the path of a first run', () => {
  const before = [step('hookup', 'done'), step('ceiling', 'done'), step('gain', 'done')];
  it('leads from one open step to the next, and ends with the first proof', () => {
    const gain = step('gain', 'open');
    const steps = [step('hookup', 'done'), step('listening', 'open', false), gain, step('proof', 'open'), step('response', 'open')];
    expect(firstRunPath(steps, gain)).toEqual({ done: 1, of: 3, next: gain, isOnPath: true });
    expect(firstRunPath(steps, steps[4]!)?.isOnPath).toBe(false);
  });
  it('is at its end once all of it is done, whatever comes after', () => {
    const steps = [...before, step('proof', 'done'), step('polarity', 'open')];
    expect(firstRunPath(steps, steps[0]!)?.next).toBeUndefined();
  });
  it.each<Status>(['skipped', 'stale', 'open'])('is not at its end with a proof that is %s', (status) => {
    const proof = step('proof', status);
    expect(firstRunPath([...before, proof], proof)).toEqual({ done: 3, of: 4, next: proof, isOnPath: true });
  });
  it('is none where nothing is to be proved', () => {
    expect(firstRunPath(before, before[0]!)).toBeUndefined();
  });
});
