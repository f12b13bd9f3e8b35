/**
 * Where a picture begins so that it stands still: the first rising crossing of the middle that leaves room for the whole width.
 *
 * @returns index into the samples; 0 where nothing crosses
 */
export function triggerIndex(samples: Float32Array, width: number): number {
  let sum = 0;
  for (const value of samples) sum += value;
  const middle = sum / Math.max(1, samples.length);
  for (let n = 1; n < samples.length - width; n += 1) if (samples[n - 1]! < middle && samples[n]! >= middle) return n;
  return 0;
}
