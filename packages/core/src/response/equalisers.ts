/** An equaliser of free bands. */
export interface ParametricEqualiser {
  kind: 'parametric';
  /** 1 … 32 */
  bands: number;
  minQ?: number;
  maxQ?: number;
  frequencyStepHz?: number;
  qStep?: number;
}
/** An equaliser of fixed centres. */
export interface GraphicEqualiser {
  kind: 'graphic';
  centresHz: readonly number[];
  q: number;
}
