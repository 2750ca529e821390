import { layOut, ownKernels, type KernelExports } from '../../kernels/kernels';

/** Smallest power of two that is not below a length, 16 at least (the kernel's strips). */
export const powerOfTwo = (length: number): number => 2 ** Math.ceil(Math.log2(Math.max(16, length)));

/** A complex plane in the kernels' memory: byte offsets of its real and imaginary parts. */
export interface Spectrum {
  readonly re: number;
  readonly im: number;
}

/** Discrete Fourier transforms of two-dimensional complex planes, sides powers of two from 16 on. They stay in memory of their own. */
export class Fourier {
  readonly kernels: KernelExports = ownKernels();
  /** Where the planes begin; they lie one after another. */
  readonly begin: number;
  private readonly turns: readonly [across: number, down: number];
  private readonly scratch: number;
  private readonly other: Spectrum;

  /** @param planes how many there is room for */
  constructor(
    readonly width: number,
    readonly height: number,
    planes: number,
  ) {
    const bytes = width * height * 4;
    const { at, buffer } = layOut(
      [bytes * 2 * planes, bytes * 2, width * 4, height * 4, Math.max(width, height) * 128],
      this.kernels,
    );
    this.begin = at[0];
    this.other = { re: at[1], im: at[1] + bytes };
    this.turns = [at[2], at[3]];
    this.scratch = at[4];
    [width, height].forEach((side, n) => {
      const turns = new Float32Array(buffer, this.turns[n], side);
      for (let k = 0; k < side / 2; k++) {
        turns[k] = Math.cos((2 * Math.PI * k) / side);
        turns[side / 2 + k] = Math.sin((2 * Math.PI * k) / side);
      }
    });
  }

  /** The plane of a number. */
  plane(n: number): Spectrum {
    const bytes = this.width * this.height * 4;
    return { re: this.begin + 2 * n * bytes, im: this.begin + (2 * n + 1) * bytes };
  }

  /** A part's values. */
  values(at: number): Float32Array {
    return new Float32Array(this.kernels.memory.buffer, at, this.width * this.height);
  }

  /** Transforms a plane in place, of which only some columns hold anything. @default all */
  transform(
    { re, im }: Spectrum,
    columns: { readonly first: number; readonly end: number } = { first: 0, end: this.width },
  ): void {
    this.pass({ re, im }, columns, 0);
  }

  /** Back again, but for the factor of how many values there are. */
  invert({ re, im }: Spectrum): void {
    this.pass({ re, im }, { first: 0, end: this.width }, 1);
  }

  private pass(
    { re, im }: Spectrum,
    { first, end }: { readonly first: number; readonly end: number },
    inverse: 0 | 1,
  ): void {
    const { kernels: k, width, height, turns, other, scratch } = this;
    if (first > 0 || end < width) {
      this.values(other.re).fill(0);
      this.values(other.im).fill(0);
    }
    k.fourierColumns(re, im, other.re, other.im, width, height, turns[1], scratch, first, end, inverse);
    k.fourierColumns(other.re, other.im, re, im, height, width, turns[0], scratch, 0, height, inverse);
  }
}
