import { describe, expect, it } from 'vitest';
import { microphonePlaces } from './microphonePlaces.ts';

const CHAIN = { channels: [], listening: { plan: { head: { x: 0.5, y: 2 }, microphones: { 'right ear': { x: 0.7, y: 2.1 } } } } };

describe('places of the microphone', () => {
  it('lie where they were marked, else where their names say, else around the head', () => {
    const places = microphonePlaces(CHAIN, ['left ear', 'middle of the head', 'right ear', 'place 1', 'constructor']);
    expect(places['left ear']!.x).toBeCloseTo(0.41, 9);
    expect(places['middle of the head']).toEqual({ x: 0.5, y: 2 });
    expect(places['right ear']).toEqual({ x: 0.7, y: 2.1 });
    for (const name of ['place 1', 'constructor']) {
      expect(Math.hypot(places[name]!.x - 0.5, places[name]!.y - 2)).toBeCloseTo(0.18, 9);
    }
  });
});
