import { blurPlane } from '../../raster/blurPlane';
import { greyPlane } from '../../raster/greyPlane';
import { byRegion, type StartLook } from './startLook';

/** A region is sky where it is so light, neither green nor warm, and so smooth; and reaches the upper border. */
const LIGHT = 50;
/** Or so blue, and less light. */
const BLUE = -15;
const DEEP = 20;
const WARMEST = 12;
const GREENEST = -12;
const ROUGHEST = 4;
/** Regions that begin below this share of the height are not sky, whatever they look like. */
const LOWEST = 0.66;

/** 1 where the sky is. */
export function sky(look: StartLook): Uint8Array {
  const { width, height, picture, lab, regions } = look;
  const grey = greyPlane(picture);
  const smooth = blurPlane(grey, width, height, 1.5);
  const means = [0, 1, 2].map((c) =>
    byRegion(
      grey.map((_, i) => lab[i * 3 + c]),
      regions,
    ),
  );
  const rough = byRegion(
    grey.map((v, i) => Math.abs(v - smooth[i])),
    regions,
  );
  const atTop = new Uint8Array(regions.count);
  for (let x = 0; x < width; x++) atTop[regions.of[x]] = 1;
  const looksIt = (i: number): boolean =>
    (means[0][i] > LIGHT || (means[0][i] > DEEP && means[2][i] < BLUE)) &&
    means[1][i] > GREENEST &&
    (means[1][i] < WARMEST || means[2][i] < BLUE) &&
    means[2][i] < WARMEST &&
    rough[i] < ROUGHEST;
  // What looks like sky and hangs together with what does at the upper border.
  const out = new Uint8Array(width * height);
  const stack: number[] = [];
  const take = (i: number): void => {
    if (out[i] || !looksIt(i) || i >= LOWEST * height * width) return;
    out[i] = 1;
    stack.push(i);
  };
  for (let x = 0; x < width; x++) if (atTop[regions.of[x]]) take(x);
  for (let i = stack.pop(); i !== undefined; i = stack.pop()) {
    const x = i % width;
    if (x > 0) take(i - 1);
    if (x < width - 1) take(i + 1);
    if (i >= width) take(i - width);
    if (i + width < out.length) take(i + width);
  }
  return out;
}
