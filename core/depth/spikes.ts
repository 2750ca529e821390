import type { DepthMap, Picture8 } from '../raster/picture';
import { overMap } from './overMap';

/** What counts as a spike. */
export interface SpikeSearch {
  /** It stands out by so much of depth at least, before or behind what is around it. */
  readonly by: number;
  /** It is so narrow at most, px of the map. */
  readonly wide: number;
}

/** A narrow thing that stands out in depth, but not in the picture. */
export interface Spike {
  /** Where it stands out most, px of the map. */
  readonly x: number;
  readonly y: number;
  /** Depth there, and around it, 0 to 1. */
  readonly depth: number;
  readonly around: number;
  /** How wide it is where it is narrow, px of the map. */
  readonly wide: number;
  /** Its pixels. */
  readonly pixels: readonly number[];
}

/** What is parted from its surroundings by so much colour is a thing of its own, 8-bit steps over three channels. */
const OWN_COLOUR = 26;
/** Fewer pixels are specks. */
const FEWEST = 4;
const MOST = 200;

/**
 * Looks for spikes: what a grey opening (narrow near things) or closing (narrow far ones) takes away, unless its
 * colours differ from what is
 * around it. Source: Serra, "Image Analysis and Mathematical Morphology", 1982 (top-hat by a square window).
 * @param picture of the map's size
 * @returns those that stand out most first
 */
export function findSpikes(map: DepthMap, picture: Picture8, search: SpikeSearch): Spike[] {
  const { width, height, data } = map;
  const reach = reachOf(search.wide);
  const least = search.by * 65535;
  const spikes: Spike[] = [];
  for (const near of [true, false]) {
    const away = openedOrClosed(map, reach, near);
    const out = new Uint8Array(width * height);
    for (let i = 0; i < out.length; i++) if (Math.abs(data[i] - away[i]) >= least) out[i] = 1;
    for (let i = 0; i < out.length; i++)
      if (out[i] === 1) {
        const pixels = together(out, i, width, height);
        if (pixels.length >= FEWEST && !hasOwnColour(picture, pixels, out)) spikes.push(spikeOf(map, away, pixels));
      }
  }
  const height01 = ({ depth, around }: Spike): number => Math.abs(depth - around);
  return spikes.sort((a, b) => height01(b) - height01(a)).slice(0, MOST);
}

/** Lays spikes flat: each takes the depth that is around it, with a rim of one px. @returns depth 0 to 1 */
export function flattenSpikes(map: DepthMap, spikes: readonly Spike[], wide: number): Float32Array {
  const { width, height } = map;
  const out = overMap(map, (v) => v);
  for (const near of [true, false]) {
    const chosen = spikes.filter(({ depth, around }) => depth > around === near);
    if (chosen.length === 0) continue;
    const away = openedOrClosed(map, reachOf(wide), near);
    for (const { pixels } of chosen)
      for (const i of pixels) for (const k of around(i, width, height)) out[k] = away[k] / 65535;
  }
  return out;
}

/**
 * A window so far to each side takes away what is at most so wide. Of a reduced map it takes away less, so that
 * nothing is found there that
 * would not be found at full size.
 */
const reachOf = (wide: number): number => Math.max(1, Math.floor(wide / 2));

/** Grey opening (`near`: what is narrow and near is gone) or closing of a map. */
function openedOrClosed(map: DepthMap, reach: number, near: boolean): Uint16Array {
  const shrink = near ? Math.min : Math.max;
  const grow = near ? Math.max : Math.min;
  return overWindow({ ...map, data: overWindow(map, reach, shrink) }, reach, grow);
}

/** The least or greatest over a square window of 2 reach + 1 px. */
function overWindow(
  { width, height, data }: DepthMap,
  reach: number,
  pick: (a: number, b: number) => number,
): Uint16Array {
  const across = new Uint16Array(data.length);
  const out = new Uint16Array(data.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let v = data[y * width + x];
      const last = Math.min(width - 1, x + reach);
      for (let u = Math.max(0, x - reach); u <= last; u++) v = pick(v, data[y * width + u]);
      across[y * width + x] = v;
    }
  for (let y = 0; y < height; y++) {
    const last = Math.min(height - 1, y + reach);
    for (let x = 0; x < width; x++) {
      let v = across[y * width + x];
      for (let u = Math.max(0, y - reach); u <= last; u++) v = pick(v, across[u * width + x]);
      out[y * width + x] = v;
    }
  }
  return out;
}

/** A pixel and its neighbours. */
function around(i: number, width: number, height: number): number[] {
  const x = i % width;
  const y = (i - x) / width;
  const out: number[] = [];
  for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++)
    for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) out.push(v * width + u);
  return out;
}

/** The pixels that hang together with one; they are marked 2. */
function together(out: Uint8Array, first: number, width: number, height: number): number[] {
  const pixels = [first];
  out[first] = 2;
  for (let n = 0; n < pixels.length; n++)
    for (const k of around(pixels[n], width, height))
      if (out[k] === 1) {
        out[k] = 2;
        pixels.push(k);
      }
  return pixels;
}

/** True where its pixels have other colours than what lies two px around them. */
function hasOwnColour({ width, height, data }: Picture8, pixels: readonly number[], out: Uint8Array): boolean {
  const mean = (list: Iterable<number>): number[] => {
    const sum = [0, 0, 0, 0];
    for (const i of list) {
      for (let c = 0; c < 3; c++) sum[c] += data[4 * i + c];
      sum[3]++;
    }
    return [0, 1, 2].map((c) => sum[c] / Math.max(1, sum[3]));
  };
  const ring = new Set<number>();
  for (const i of pixels)
    for (const k of around(i, width, height)) for (const m of around(k, width, height)) if (out[m] === 0) ring.add(m);
  const [inside, outside] = [mean(pixels), mean(ring)];
  return inside.reduce((sum, v, c) => sum + Math.abs(v - outside[c]), 0) > OWN_COLOUR;
}

function spikeOf({ width, data }: DepthMap, away: Uint16Array, pixels: readonly number[]): Spike {
  let top = pixels[0];
  let [left, right, up, down] = [Infinity, -1, Infinity, -1];
  for (const i of pixels) {
    if (Math.abs(data[i] - away[i]) > Math.abs(data[top] - away[top])) top = i;
    const x = i % width;
    const y = (i - x) / width;
    [left, right, up, down] = [Math.min(left, x), Math.max(right, x), Math.min(up, y), Math.max(down, y)];
  }
  const x = top % width;
  // Along a slanting thing its width is what its length leaves of its area.
  const long = Math.max(1, Math.hypot(right - left, down - up));
  const wide = Math.max(1, Math.min(right - left + 1, down - up + 1, Math.round(pixels.length / long)));
  return { x, y: (top - x) / width, depth: data[top] / 65535, around: away[top] / 65535, wide, pixels };
}
