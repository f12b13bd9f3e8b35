export interface BrokenLinesResult {
  rounds: number;
  /** how each kind of request ended, and how often */
  table: Record<string, Record<string, number>>;
  faults: string[];
}
export function brokenLines(databaseUrl: string, options: { seed: number; rounds: number }): Promise<BrokenLinesResult>;
