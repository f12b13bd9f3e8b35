import { formatQuantity } from '../units/formatQuantity.ts';
import type { FilterKind } from './filters.ts';

/** What a driver's maker recommends for filters of one order. */
export interface Recommended {
  order: number;
  /** lowest corner of a high-pass */
  fromHz: number;
  /** highest corner of a low-pass */
  toHz?: number;
}

/** The part of the sound that a driver is made for. */
export interface DriverRange {
  usableFromHz?: number;
  usableToHz?: number;
  recommended?: readonly Recommended[];
}

export type SafeCorner =
  | {
      kind: 'known';
      /** the nearest corner that is safe at this power: the lowest of a high-pass, the highest of a low-pass */
      limitHz: number;
      /** with a margin to spare; the limit itself where the maker named it */
      easyHz: number;
      basis: 'recommended' | 'usable-range';
      why: string;
    }
  | { kind: 'unknown' };

/** At full power a driver wants its high-pass at 1.5 to 2 times where its range begins. Common practice, no source. */
const MARGIN_AT_FULL_POWER = { least: 0.5, easy: 1 };

/**
 * How low a high-pass or how high a low-pass of a driver may be set.
 *
 * The maker's word for this slope counts before the usable range; a steeper filter than any that was named may use the word for
 * the steepest below it. The margin over the usable range grows with the power.
 *
 * @param powerShare - power that the driver gets at full scale over its rated power
 */
export function safeCorner(range: DriverRange, kind: FilterKind, order: number, powerShare: number): SafeCorner {
  const named = [...(range.recommended ?? [])].filter((each) => each.order <= order).sort((a, b) => b.order - a.order);
  const slope = (each: Recommended): string => `${6 * each.order} dB per octave`;
  if (kind === 'highpass') {
    const best = named[0];
    if (best !== undefined) {
      return {
        kind: 'known',
        limitHz: best.fromHz,
        easyHz: best.fromHz,
        basis: 'recommended',
        why: `its maker recommends ${formatQuantity(best.fromHz, 'Hz')} or more with ${slope(best)}`,
      };
    }
    const { usableFromHz } = range;
    if (usableFromHz === undefined) return { kind: 'unknown' };
    const share = Math.min(1, Math.max(0, powerShare));
    const factor = 1 + MARGIN_AT_FULL_POWER.least * share;
    return {
      kind: 'known',
      limitHz: usableFromHz * factor,
      easyHz: usableFromHz * (1 + MARGIN_AT_FULL_POWER.easy * share),
      basis: 'usable-range',
      why: `its range begins at ${formatQuantity(usableFromHz, 'Hz')}, times ${factor.toFixed(2)} for ${Math.round(100 * share)} % of its rated power`,
    };
  }
  const best = named.find(({ toHz }) => toHz !== undefined);
  if (best?.toHz !== undefined) {
    return {
      kind: 'known',
      limitHz: best.toHz,
      easyHz: best.toHz,
      basis: 'recommended',
      why: `its maker recommends ${formatQuantity(best.toHz, 'Hz')} or less with ${slope(best)}`,
    };
  }
  const { usableToHz } = range;
  if (usableToHz === undefined) return { kind: 'unknown' };
  return {
    kind: 'known',
    limitHz: usableToHz,
    easyHz: usableToHz,
    basis: 'usable-range',
    why: `its range ends at ${formatQuantity(usableToHz, 'Hz')}`,
  };
}
