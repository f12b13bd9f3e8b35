/** Samples of one channel. Of a very long recording they are of single precision, which holds 24 bits: more than any recorder has. */
export type Samples = Float64Array | Float32Array;

/** So many values, all channels together, are kept in double precision. */
const MAX_DOUBLES = 8_000_000;

/** Room for one channel's samples. @param all - values of all channels together; @param isShared - in memory that threads share */
export function newSamples(count: number, all: number, isShared = false): Samples {
  if (all > MAX_DOUBLES) return isShared ? new Float32Array(new SharedArrayBuffer(4 * count)) : new Float32Array(count);
  return isShared ? new Float64Array(new SharedArrayBuffer(8 * count)) : new Float64Array(count);
}
