/** Between what a figure is likely to lie; either end may be open. Same unit as the figure. */
export interface LikelySize {
  atLeast?: number;
  atMost?: number;
}

/** A figure that is out of all proportion, and what was meant, maybe. */
export interface SizeDoubt {
  /** the same digits with the point or the prefix where they make sense; left out where no place does */
  likely?: number;
}

/** Slips in the order in which they are made: a point, a prefix, two points, a prefix of a prefix. Common practice, no source. */
const SLIPS: readonly number[] = [1, 3, 2, 6, 9, 12];

/**
 * Whether a figure is of a believable size, and if not, which slip of the point or the prefix would explain it.
 *
 * @returns undefined where the figure is believable, or nothing is known of its size
 * @example sizeDoubt(338, { atMost: 100 }) // { likely: 33.8 }
 * @example sizeDoubt(6.8, { atMost: 0.01 }) // 6.8 F: { likely: 0.0000068 }
 */
export function sizeDoubt(value: number, { atLeast = 0, atMost = Infinity }: LikelySize): SizeDoubt | undefined {
  // Nothing on the display is a reading of its own.
  if (value === 0 || !Number.isFinite(value) || (value >= atLeast && value <= atMost)) return undefined;
  const sign = value > atMost ? -1 : 1;
  for (const decades of SLIPS) {
    // Rounded far below what was typed, so that no rounding is shown.
    const meant = Number((value * 10 ** (sign * decades)).toPrecision(12));
    if (Number.isFinite(meant) && meant >= atLeast && meant <= atMost && (sign === 1 || meant >= leastLikely(atLeast, atMost))) {
      return { likely: meant };
    }
  }
  return {};
}

/** Without a lower end nothing is believed that lies a million times under the upper one. */
const leastLikely = (atLeast: number, atMost: number): number => (atLeast > 0 ? atLeast : atMost * 1e-6);

/** What parts and figures of the trade are, where nothing nearer is known. Common practice, no source. */
export const USUAL_SIZES = {
  /** capacitors of passive networks */
  F: { atLeast: 1e-7, atMost: 5e-3 },
  /** their inductors, and the coils of drivers */
  H: { atLeast: 1e-6, atMost: 0.1 },
  ohm: { atLeast: 0.05, atMost: 2000 },
  Hz: { atLeast: 1, atMost: 100_000 },
  V: { atLeast: 1e-4, atMost: 1000 },
  W: { atLeast: 0.01, atMost: 50_000 },
  A: { atLeast: 1e-3, atMost: 2000 },
} as const satisfies Partial<Record<string, LikelySize>>;
