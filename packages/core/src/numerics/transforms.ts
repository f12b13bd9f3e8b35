import FFT from 'fft.js';

/** Tables of longer transforms take megabytes: they go with the work that they were made for. */
const MAX_KEPT = 1 << 18;

const kept = new Map<number, FFT>();

/** A transform of this size, a power of two. Its tables take longer to make than a transform does, and work asks for the same few sizes. */
export function transformOf(size: number): FFT {
  const known = kept.get(size);
  if (known !== undefined) return known;
  const made = new FFT(size);
  if (size <= MAX_KEPT) kept.set(size, made);
  return made;
}
