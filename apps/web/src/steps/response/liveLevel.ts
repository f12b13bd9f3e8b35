/** Quieter than this at the loudest, a sweep drowns in the room; common practice, no source. */
const TOO_LOW_DBFS = -50;
const CLIPPED = 0.985;

export interface LiveLevel {
  rmsDbfs: number;
  /** 0 … 1 */
  peak: number;
}

/** @param samples - shares of full scale */
export function levelOf(samples: Float32Array): LiveLevel {
  let [peak, sum] = [0, 0];
  for (const value of samples) {
    peak = Math.max(peak, Math.abs(value));
    sum += value * value;
  }
  // A full-scale sine is 0 dBFS.
  return { rmsDbfs: 10 * Math.log10(Math.max(1e-12, (2 * sum) / Math.max(1, samples.length))), peak };
}

/** What a level means, for what is heard now and for what was recorded. */
export function levelWords({ peak, rmsDbfs }: LiveLevel): { words: string; isUsable: boolean } {
  if (peak >= CLIPPED) return { words: 'it sits on its rails: turn the input or the volume down.', isUsable: false };
  if (rmsDbfs < TOO_LOW_DBFS)
    return {
      words: 'quiet. Right for a silent room. If the sweep is playing, turn up the input or the volume.',
      isUsable: peak > 0.003,
    };
  return { words: 'a good level while something plays. While nothing does, this room is too loud.', isUsable: true };
}
