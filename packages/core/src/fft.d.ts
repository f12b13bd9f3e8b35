/** The part of fft.js that is used here; the package ships no types. */
declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    readonly size: number;
    createComplexArray(): number[];
    /** mirrors the first half, which is what `realTransform` fills */
    completeSpectrum(spectrum: number[]): void;
    realTransform(output: number[], input: readonly number[]): void;
    inverseTransform(output: number[], input: readonly number[]): void;
  }
}
