/** The stretch of a record that is shown, in samples; may end in fractions. */
export interface View {
  from: number;
  to: number;
}

/** Fewer samples than this across the view show nothing more. */
const MIN_SAMPLES = 16;

/** Zooms by a factor (below 1 = closer) around a share of the width, and stays within the record. */
export function zoomed({ from, to }: View, factor: number, around: number, total: number): View {
  const width = Math.min(total, Math.max(MIN_SAMPLES, (to - from) * factor));
  return clamped(from + (to - from - width) * around, width, total);
}

/** Moves by a share of the width. */
export function moved({ from, to }: View, share: number, total: number): View {
  return clamped(from + (to - from) * share, to - from, total);
}

function clamped(from: number, width: number, total: number): View {
  const start = Math.max(0, Math.min(total - width, from));
  return { from: start, to: start + width };
}
