import { describe, expect, it } from 'vitest';
import { isOverload, OVERLOAD_OHM } from './overload.ts';

describe('isOverload', () => {
  it.each(['OL', 'ol', '0L', 'O.L', ' 0.L ', 'open', 'Overload', '∞'])('knows “%s”', (text) => {
    expect(isOverload(text)).toBe(true);
  });
  it.each(['0', '0.1', 'opens', '1 OL', '', 'l'])('leaves “%s” alone', (text) => {
    expect(isOverload(text)).toBe(false);
  });
  it('is kept as a number that no coil reaches', () => {
    expect(OVERLOAD_OHM).toBeGreaterThanOrEqual(1e5);
    expect(Number.isFinite(OVERLOAD_OHM)).toBe(true);
  });
});
