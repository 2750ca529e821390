import { distanceTo } from '../raster/distance';
import { layOut, type KernelExports } from '../kernels/kernels';

/** Patches reach so far to each side, px: 7 x 7. */
export const PATCH_REACH = 3;

/**
 * What a source at the picture's other end, up or down, pays beside how far its 147 values are off (their squares):
 * some 45 a value, squared.
 */
export const LEVEL = 147 * 45 ** 2;

/** One size of a picture that is completed: RGBA of 8 bits whose fourth channel is 0. */
export interface PatchLevel {
  readonly width: number;
  readonly height: number;
  readonly picture: Uint8Array;
  /** 1 where it is filled. */
  readonly hole: Uint8Array;
  /** 1 where samples may be taken. */
  readonly from: Uint8Array;
}

/** Half the size: a pixel is open where any of its four is, and sampled where all may be; colours are those of the known ones. */
export function halfLevel({ width, height, picture, hole, from }: PatchLevel): PatchLevel {
  const w = width >> 1;
  const h = height >> 1;
  const out = new Uint8Array(w * h * 4);
  const open = new Uint8Array(w * h);
  const may = new Uint8Array(w * h);
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0; x < w; x++, i++) {
      let known = 0;
      let r = 0;
      let g = 0;
      let b = 0;
      may[i] = 1;
      for (let k = 0; k < 4; k++) {
        const j = (2 * y + (k >> 1)) * width + 2 * x + (k & 1);
        if (!from[j]) may[i] = 0;
        if (hole[j]) {
          open[i] = 1;
          continue;
        }
        known++;
        r += picture[j * 4];
        g += picture[j * 4 + 1];
        b += picture[j * 4 + 2];
      }
      if (known > 0) {
        out[i * 4] = r / known + 0.5;
        out[i * 4 + 1] = g / known + 0.5;
        out[i * 4 + 2] = b / known + 0.5;
      }
    }
  }
  return { width: w, height: h, picture: out, hole: open, from: may };
}

/** A level in the kernels' memory, with what was found for each target patch so far. */
export class PatchField {
  readonly slot: Int32Array;
  /** Pixels whose patch touches the hole, in reading order. */
  readonly targets: Int32Array;
  /** Pixels to fill, and known ones along the hole's border, which tell how far the colours are off there. */
  readonly pixels: Int32Array;
  readonly open: number;
  /** Pixels around which a whole patch may be sampled. */
  readonly sources: Int32Array;
  private readonly may: Uint8Array;
  private readonly trust: Float32Array;
  private readonly at: readonly number[];

  constructor(
    readonly level: PatchLevel,
    private readonly k: KernelExports,
    colours?: Uint16Array,
  ) {
    const { width, height, hole, from } = level;
    const n = width * height;
    const r = PATCH_REACH;
    const bad = new Int32Array((width + 1) * (height + 1));
    const holes = new Int32Array((width + 1) * (height + 1));
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        const s = (y + 1) * (width + 1) + x + 1;
        bad[s] = bad[s - 1] + bad[s - width - 1] - bad[s - width - 2] + (hole[i] || !from[i] ? 1 : 0);
        holes[s] = holes[s - 1] + holes[s - width - 1] - holes[s - width - 2] + hole[i];
      }
    }
    const inBox = (sums: Int32Array, x: number, y: number): number => {
      const a = (y - r) * (width + 1) + x - r;
      const b = (y + r + 1) * (width + 1) + x - r;
      const w = 2 * r + 1;
      return sums[b + w] - sums[a + w] - sums[b] + sums[a];
    };
    this.slot = new Int32Array(n).fill(-1);
    this.may = new Uint8Array(n);
    const targets: number[] = [];
    const sources: number[] = [];
    for (let y = r; y < height - r; y++) {
      for (let x = r; x < width - r; x++) {
        const i = y * width + x;
        if (inBox(bad, x, y) === 0) {
          this.may[i] = 1;
          sources.push(i);
        }
        if (inBox(holes, x, y) > 0) {
          this.slot[i] = targets.length;
          targets.push(i);
        }
      }
    }
    this.targets = Int32Array.from(targets);
    this.sources = Int32Array.from(sources);
    const open: number[] = [];
    const ring: number[] = [];
    for (let y = 0, i = 0; y < height; y++) {
      for (let x = 0; x < width; x++, i++) {
        if (hole[i]) open.push(i);
        else if (
          (x > 0 && hole[i - 1]) ||
          (x < width - 1 && hole[i + 1]) ||
          (y > 0 && hole[i - width]) ||
          (y < height - 1 && hole[i + width])
        )
          ring.push(i);
      }
    }
    this.open = open.length;
    this.pixels = Int32Array.from([...open, ...ring]);
    // The farther in, the less a patch is trusted: what is known spreads from the border inwards.
    const away = distanceTo({ width, height, data: hole.map((v) => (v ? 255 : 0)) });
    this.trust = Float32Array.from(targets, (i) => 1.3 ** -Math.min(60, away[i]));
    const t = targets.length;
    this.at = layOut(
      [
        n * 4,
        n * 4,
        t * 4,
        t * 4,
        t * 4,
        n,
        t * 4,
        this.pixels.length * 4,
        this.pixels.length * 16,
        colours ? colours.byteLength : 0,
      ],
      k,
    ).at;
    new Int32Array(this.buffer, this.at[1], n).set(this.slot);
    new Int32Array(this.buffer, this.at[2], t).set(this.targets);
    new Uint8Array(this.buffer, this.at[5], n).set(this.may);
    new Int32Array(this.buffer, this.at[7], this.pixels.length).set(this.pixels);
    if (colours) new Uint16Array(this.buffer, this.at[9], colours.length).set(colours);
  }

  private get buffer(): ArrayBuffer {
    return this.k.memory.buffer;
  }
  get found(): Int32Array {
    return new Int32Array(this.buffer, this.at[3], this.targets.length);
  }

  /** Takes guesses for every target; where a patch may not lie, another one by chance. */
  guess(guessOf: (target: number) => number, chance: () => number): void {
    const { found, sources, may } = this;
    this.targets.forEach((p, n) => {
      const q = guessOf(p);
      found[n] = q >= 0 && q < may.length && may[q] ? q : sources[Math.floor(chance() * sources.length)];
    });
  }

  /** One turn of searching on the level's picture; returns the sum of differences. */
  search(back: boolean, seed: number): number {
    const { width, height, picture } = this.level;
    const { at, k } = this;
    new Uint8Array(this.buffer, at[0], picture.length).set(picture);
    return k.searchPatches(
      at[0],
      width,
      height,
      at[1],
      at[2],
      this.targets.length,
      at[3],
      at[4],
      at[5],
      back ? 1 : 0,
      Math.max(width, height),
      LEVEL / height ** 2,
      seed,
    );
  }

  /**
   * What the patches say of every listed pixel (those to fill, then the ring), four floats each.
   * @param equal all patches are as good, but for how near the border is: what was found has not been measured on this
   * picture yet
   * @param sharp how much better patches outweigh worse ones: 1 as the source has it; more keeps texture crisper
   */
  vote(sharp: number, deep = false, equal = false): Float32Array {
    const { width, height, picture } = this.level;
    const { at, k } = this;
    const t = this.targets.length;
    const differences = new Int32Array(this.buffer, at[4], t);
    const weights = new Float32Array(this.buffer, at[6], t);
    // The spread of what is off decides what counts as good: the 75th percentile, from a sample.
    const sample = Float32Array.from(
      { length: Math.min(t, 2000) },
      (_, n) => differences[Math.floor((n * t) / Math.min(t, 2000))],
    ).sort();
    const sigma2 = Math.max(50, sample[Math.floor(sample.length * 0.75)]) / sharp;
    for (let n = 0; n < t; n++)
      weights[n] = equal ? this.trust[n] : this.trust[n] * Math.exp(-differences[n] / (2 * sigma2)) + 1e-12;
    if (!deep) new Uint8Array(this.buffer, at[0], picture.length).set(picture);
    k.votePatches(
      deep ? at[9] : at[0],
      deep ? 1 : 0,
      width,
      height,
      at[1],
      at[3],
      at[6],
      at[7],
      this.pixels.length,
      at[8],
    );
    return new Float32Array(this.buffer, at[8], this.pixels.length * 4);
  }

  /** Writes votes into the level's picture where it is open. */
  take(votes: Float32Array): void {
    const { picture } = this.level;
    for (let n = 0; n < this.open; n++)
      for (let c = 0; c < 3; c++) picture[this.pixels[n] * 4 + c] = votes[n * 4 + c] + 0.5;
  }
}
