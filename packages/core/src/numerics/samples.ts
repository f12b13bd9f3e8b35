/** Samples of one channel. Of a very long recording they are of single precision, which holds 24 bits: more than any recorder has. */
export type Samples = Float64Array | Float32Array;

/** So many values, all channels together, are kept in double precision. */
const MOST_DOUBLES = 8_000_000;

/** Room for one channel's samples. @param all - values of all channels together */
export const newSamples = (count: number, all: number): Samples => (all > MOST_DOUBLES ? new Float32Array(count) : new Float64Array(count));
