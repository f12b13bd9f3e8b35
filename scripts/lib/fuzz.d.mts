export interface FuzzResult {
  requests: number;
  statuses: Record<string, number>;
  /** each with what was asked */
  faults: string[];
  slowestMs: number;
  slowestHealthMs: number;
}
export function seededRandom(seed: number): () => number;
export function fuzz(url: string, options: { seed: number; requests: number }): Promise<FuzzResult>;
