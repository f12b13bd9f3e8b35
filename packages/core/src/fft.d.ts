/** The part of fft.js that is used here; the package ships no types. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    realTransform(output: number[], input: readonly number[]): void;
    inverseTransform(output: number[], input: readonly number[]): void;
  }
}
