export interface OddValuesResult {
  asked: number;
  refused: number;
  accepted: number;
  /** how many fields there are to put something odd into */
  fields: number;
  /** each with what was sent */
  faults: string[];
}
export function oddValues(url: string, options: { seed: number; writes: number; archives: number }): Promise<OddValuesResult>;
