/** One channel of 32-bit floats, rows from above, and what its file says of them. */
export interface FloatPlane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}
