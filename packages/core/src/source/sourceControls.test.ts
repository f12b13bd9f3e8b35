import { describe, expect, it } from 'vitest';
import { isNeutral, SOURCE_CONTROLS } from './sourceControls.ts';

describe('a control’s neutral position', () => {
  it.each([
    ['bass', '0', true],
    ['bass', '+0', true],
    ['bass', ' 0 dB', true],
    ['bass', '0,0', true],
    ['bass', '+1', false],
    ['bass', '-10', false],
    ['loudness', 'off', true],
    ['loudness', 'OFF', true],
    ['loudness', 'low', false],
    ['equaliser', 'flat', true],
    ['equaliser', 'rock', false],
    ['fader', 'centre', true],
    ['fader', 'center', true],
    ['fader', 'R3', false],
  ] as const)('%s at “%s”: %s', (control, value, neutral) => {
    expect(isNeutral(control, value)).toBe(neutral);
  });
  it('is neutral by its own word, for every control', () => {
    for (const { id, neutral } of SOURCE_CONTROLS) expect(isNeutral(id, neutral)).toBe(true);
  });
});
