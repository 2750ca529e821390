import { boxMean } from '../raster/box';
import type { Picture8 } from '../raster/picture';

/** Half of the window's side over which differences are averaged, px. */
const REACH = 4;
/** A mean difference below this is noise, grey levels. */
const NOISE = 6;

/**
 * What has not moved in any frame since the key: there its depth stays as it is, bit by bit, since flow alone would
 * drift. Only of use
 * where the camera stands still: an even wall that passes by looks the same, too.
 */
export class StillParts {
  private readonly moved: Uint8Array;

  constructor(private readonly key: Picture8) {
    this.moved = new Uint8Array(key.width * key.height);
  }

  /** One more frame. */
  add({ width, height, data }: Picture8): void {
    const off = new Float32Array(width * height);
    const before = this.key.data;
    for (let i = 0, k = 0; i < off.length; i++, k += 4)
      off[i] =
        (Math.abs(data[k] - before[k]) +
          Math.abs(data[k + 1] - before[k + 1]) +
          Math.abs(data[k + 2] - before[k + 2])) /
        3;
    boxMean(off, width, height, REACH).forEach((v, i) => {
      if (v >= NOISE) this.moved[i] = 1;
    });
  }

  /** Puts a key's depth back where nothing has moved. */
  keep(depth: Float32Array, key: Float32Array): void {
    for (let i = 0; i < depth.length; i++) if (this.moved[i] === 0) depth[i] = key[i];
  }
}
