declare module 'fft.js' {
  /** Transforms of complex numbers, re and im interleaved; lengths are powers of two. */
  class FFT {
    constructor(size: number);
    transform(out: Float64Array, data: Float64Array): void;
    /** Divides by the length. */
    inverseTransform(out: Float64Array, data: Float64Array): void;
  }
  export = FFT;
}
