import { describe, expect, it } from 'vitest';
import { soundGuide } from './soundGuide.ts';

describe('the sound that guides a hand', () => {
  it('comes faster the nearer the target is, settles on it, and warns beyond', () => {
    const rates = [-20, -12, -6, -3, -1, -0.3].map((db) => soundGuide(db, 0.2).clicksPerSecond);
    expect([...rates].sort((a, b) => a - b)).toEqual(rates);
    expect(rates[0]).toBe(rates[1]);
    for (const db of [-0.2, 0, 0.2]) expect(soundGuide(db, 0.2).clicksPerSecond).toBe(0);
    const over = soundGuide(0.3, 0.2);
    expect(over.clicksPerSecond).toBeGreaterThan(Math.max(...rates));
    expect(over.hertz).toBeLessThan(soundGuide(-3, 0.2).hertz);
  });
});
