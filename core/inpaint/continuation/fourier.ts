import FFT from 'fft.js';

/** Smallest power of two that is not below a length. */
export const powerOfTwo = (length: number): number => 2 ** Math.ceil(Math.log2(Math.max(2, length)));

/** Discrete Fourier transforms of two-dimensional complex planes (re, im interleaved), sides powers of two. */
export class Fourier {
  private readonly rows: FFT;
  private readonly columns: FFT;
  private readonly line: Float64Array;
  private readonly made: Float64Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.rows = new FFT(width);
    this.columns = new FFT(height);
    this.line = new Float64Array(2 * height);
    this.made = new Float64Array(2 * Math.max(width, height));
  }

  /** Room for a plane. */
  plane(): Float64Array {
    return new Float64Array(2 * this.width * this.height);
  }

  /** Transforms a plane in place; the inverse divides by how many values there are. */
  transform(plane: Float64Array, inverse = false): Float64Array {
    const { width, height, rows, columns, line } = this;
    const acrossOut = this.made.subarray(0, 2 * width);
    for (let y = 0; y < height; y++) {
      const row = plane.subarray(2 * y * width, 2 * (y + 1) * width);
      if (inverse) rows.inverseTransform(acrossOut, row);
      else rows.transform(acrossOut, row);
      row.set(acrossOut);
    }
    const downOut = this.made.subarray(0, 2 * height);
    for (let x = 0; x < width; x++) {
      for (let y = 0, i = 2 * x; y < height; y++, i += 2 * width) {
        line[2 * y] = plane[i];
        line[2 * y + 1] = plane[i + 1];
      }
      if (inverse) columns.inverseTransform(downOut, line);
      else columns.transform(downOut, line);
      for (let y = 0, i = 2 * x; y < height; y++, i += 2 * width) {
        plane[i] = downOut[2 * y];
        plane[i + 1] = downOut[2 * y + 1];
      }
    }
    return plane;
  }
}
