import type { DepthMap } from '../raster/picture';

/** So large a step within 3 x 3 px is an edge and no slope: a fifteenth of the range. */
const EDGE = 65535 / 15;
/** An edge of a map whose px lie on one side or the other has fewer than this between its sides; softened ones have some .4. */
const SOFT_SHARE = 0.1;
const MOST_ROUNDS = 4;

/**
 * How much of a map's edges lies between their two sides: px strictly inside 25 to 75 % of the range of the 3 x 3 px around
 * them, of all px where that range is an edge. 0 where there is none.
 */
export function edgeSoftness(map: DepthMap): number {
  let edges = 0;
  let between = 0;
  eachEdge(map, (value, low, high) => {
    edges++;
    const share = (value - low) / (high - low);
    if (share > 0.25 && share < 0.75) between++;
    return value;
  });
  return edges === 0 ? 0 : between / edges;
}

/**
 * A map whose edges have been softened, with sharp ones: in rounds, every px of an edge takes the value of the side that it is
 * nearer to. A map with sharp edges comes back itself.
 * Depth between two things is the depth of neither: views draw it as a slanting wall, and nothing tears.
 * Source: docs/computations.md, Edges in views.
 */
export function sharpenEdges(map: DepthMap): DepthMap {
  let sharp = map;
  for (let round = 0; round < MOST_ROUNDS && edgeSoftness(sharp) > SOFT_SHARE; round++)
    sharp = eachEdge(sharp, (value, low, high) => (high - value <= value - low ? high : low));
  return sharp;
}

const lesser = (a: number, b: number): number => (a < b ? a : b);
const larger = (a: number, b: number): number => (a > b ? a : b);

/** Replaces every px where depth has an edge; the others stay. */
function eachEdge(map: DepthMap, replaced: (value: number, low: number, high: number) => number): DepthMap {
  const { width, height, data } = map;
  const out = data.slice();
  // The least and the most of three px of a row, for the row above, the row itself and the one below.
  const lows = [0, 1, 2].map(() => new Uint16Array(width));
  const highs = [0, 1, 2].map(() => new Uint16Array(width));
  const take = (y: number): void => {
    const low = lows[y % 3];
    const high = highs[y % 3];
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const a = data[x > 0 ? i - 1 : i];
      const b = data[i];
      const c = data[x < width - 1 ? i + 1 : i];
      low[x] = lesser(lesser(a, b), c);
      high[x] = larger(larger(a, b), c);
    }
  };
  take(0);
  for (let y = 0; y < height; y++) {
    if (y + 1 < height) take(y + 1);
    const rows = [y > 0 ? (y - 1) % 3 : y % 3, y % 3, y + 1 < height ? (y + 1) % 3 : y % 3];
    const [l0, l1, l2] = rows.map((r) => lows[r]);
    const [h0, h1, h2] = rows.map((r) => highs[r]);
    for (let x = 0, i = y * width; x < width; x++, i++) {
      const low = lesser(lesser(l0[x], l1[x]), l2[x]);
      const high = larger(larger(h0[x], h1[x]), h2[x]);
      if (high - low > EDGE) out[i] = replaced(data[i], low, high);
    }
  }
  return { width, height, data: out };
}
