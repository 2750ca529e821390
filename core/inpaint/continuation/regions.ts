import type { Mask } from '../../raster/picture';

/** Parts of a hole are told apart on squares of so many px; parts that are so many squares apart belong together. */
const SQUARE = 16;
const TOGETHER = 3;
/** A part of fewer squares goes with the nearest other one, if that is so many squares off at most. */
const SMALL = 12;
const BESIDE = 16;
/** Of more parts, and of more regions, no account is kept: dust all over a picture is one hole. */
const MOST_PARTS = 200;
const MOST_REGIONS = 12;

/**
 * The regions that a hole falls into, each with what surrounds it; the largest first. What lies far apart says nothing about one
 * another.
 * @returns masks of the hole's size, 255 in each region; none where nothing is to be filled
 */
export function regionsOf(hole: Mask): Mask[] {
  const { width, height, data } = hole;
  const w = Math.ceil(width / SQUARE);
  const h = Math.ceil(height / SQUARE);
  const label = new Int32Array(w * h).fill(-1);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++)
      if (data[i] >= 128) label[Math.floor(y / SQUARE) * w + Math.floor(x / SQUARE)] = 0;
  const parts = gathered(label, w, h);
  const some = parts.length > MOST_PARTS ? [] : joined(parts, w);
  const whole = parts.length > 0 ? [parts.flat()] : [];
  const regions = some.length > 0 && some.length <= MOST_REGIONS ? some : whole;
  return regions.map((squares) => {
    const held = new Uint8Array(w * h);
    for (const s of squares) held[s] = 1;
    const out = new Uint8Array(data.length);
    for (let y = 0, i = 0; y < height; y++)
      for (let x = 0; x < width; x++, i++)
        if (data[i] >= 128 && held[Math.floor(y / SQUARE) * w + Math.floor(x / SQUARE)]) out[i] = 255;
    return { width, height, data: out };
  });
}

/** Squares that belong together. @param label 0 where a square holds something, else -1; numbered */
function gathered(label: Int32Array, w: number, h: number): number[][] {
  const parts: number[][] = [];
  const open = (i: number): boolean => label[i] === 0;
  for (let first = 0; first < label.length; first++) {
    if (!open(first)) continue;
    const squares = [first];
    label[first] = parts.length + 1;
    for (let n = 0; n < squares.length; n++) {
      const x = squares[n] % w;
      const y = Math.floor(squares[n] / w);
      for (let v = Math.max(0, y - TOGETHER); v <= Math.min(h - 1, y + TOGETHER); v++)
        for (let u = Math.max(0, x - TOGETHER); u <= Math.min(w - 1, x + TOGETHER); u++) {
          if (!open(v * w + u)) continue;
          label[v * w + u] = parts.length + 1;
          squares.push(v * w + u);
        }
    }
    parts.push(squares);
  }
  return parts;
}

/** Small parts put with the nearest other one. */
function joined(parts: readonly number[][], w: number): number[][] {
  const regions = parts.map((squares) => [...squares]).sort((a, b) => b.length - a.length);
  const away = (a: readonly number[], b: readonly number[]): number => {
    let least = Infinity;
    for (const p of a)
      for (const q of b)
        least = Math.min(least, Math.max(Math.abs((p % w) - (q % w)), Math.abs(Math.floor(p / w) - Math.floor(q / w))));
    return least;
  };
  for (let n = regions.length - 1; n > 0; n--) {
    if (regions[n].length >= SMALL) continue;
    const others = regions.slice(0, n).map((r) => away(r, regions[n]));
    const nearest = others.indexOf(Math.min(...others));
    if (others[nearest] > BESIDE) continue;
    regions[nearest].push(...regions[n]);
    regions.splice(n, 1);
  }
  return regions;
}
