import { distanceTo } from '../../raster/distance';
import type { HoledDepth, Plane } from './plane';

/** Places so near to the hole tell its planes, px. */
const AROUND = 220;
/** A place lies on a plane that is so near to it in depth. */
const ON_PLANE = 0.004;
/** A plane holds so much of the places at least; so many are looked for. */
const LEAST_SHARE = 0.03;
const MOST_PLANES = 6;
/** So many places are enough to judge by, and so many tries to find one. */
const JUDGES = 3000;
const TRIES = 500;
/** Every second try takes its places so near to one another, px: small planes are found by them. */
const NEAR = 60;

/** Places with their depth: x, y, depth interleaved. */
type Places = Float32Array;

/**
 * The planes that the surroundings of a hole lie on, those that hold most first.
 * Source: Fischler and Bolles, "Random sample consensus", Communications of the ACM 24(6), 1981, one plane after the other.
 */
export function findPlanes(holed: HoledDepth): Plane[] {
  let left = placesAround(holed);
  const least = Math.max(12, (left.length / 3) * LEAST_SHARE);
  const planes: Plane[] = [];
  const dice = tossing(1);
  while (planes.length < MOST_PLANES && left.length / 3 >= least) {
    const found = bestPlane(left, dice);
    if (!found) break;
    const { off, on } = parted(left, found);
    if (on.length / 3 < least) break;
    planes.push(found);
    left = off;
  }
  return planes;
}

/** What is known near the hole, thinned to what is needed, in an order that tells nothing. */
function placesAround({ width, height, depth, known, hole }: HoledDepth): Places {
  const away = distanceTo({ width, height, data: hole.map((v) => (v ? 0 : 255)) });
  const near: number[] = [];
  for (let y = 0; y < height; y += 2)
    for (let x = 0; x < width; x += 2) {
      const i = y * width + x;
      if (known[i] && away[i] <= AROUND) near.push(x, y, depth[i]);
    }
  const dice = tossing(7);
  const places = Float32Array.from(near);
  for (let n = places.length / 3 - 1; n > 0; n--) {
    const m = Math.floor(dice() * (n + 1));
    for (let c = 0; c < 3; c++) {
      const kept = places[n * 3 + c];
      places[n * 3 + c] = places[m * 3 + c];
      places[m * 3 + c] = kept;
    }
  }
  return places.slice(0, 20000 * 3);
}

function bestPlane(places: Places, dice: () => number): Plane | undefined {
  const count = places.length / 3;
  const judges = places.subarray(0, Math.min(count, JUDGES) * 3);
  let best: Plane | undefined;
  let most = 0;
  for (let n = 0; n < TRIES; n++) {
    const a = Math.floor(dice() * count);
    const b = n & 1 ? nearTo(places, a, dice) : Math.floor(dice() * count);
    const c = n & 1 ? nearTo(places, a, dice) : Math.floor(dice() * count);
    const plane = through(places, a, b, c);
    if (!plane) continue;
    const held = holds(judges, plane);
    if (held <= most) continue;
    most = held;
    best = plane;
  }
  // All that lies on it has its say, three times: the first three lie a little off.
  for (let n = 0; best && n < 3; n++) best = fitted(parted(places, best).on) ?? best;
  return best;
}

/** One of some places that lies near to another, if there is any among a few. */
function nearTo(places: Places, a: number, dice: () => number): number {
  const count = places.length / 3;
  let found = Math.floor(dice() * count);
  for (let n = 0; n < 12; n++) {
    const m = Math.floor(dice() * count);
    const away = Math.hypot(places[m * 3] - places[a * 3], places[m * 3 + 1] - places[a * 3 + 1]);
    if (away < NEAR) return m;
    const best = Math.hypot(places[found * 3] - places[a * 3], places[found * 3 + 1] - places[a * 3 + 1]);
    if (away < best) found = m;
  }
  return found;
}

function through(places: Places, a: number, b: number, c: number): Plane | undefined {
  const [x, y, d] = places.subarray(a * 3, a * 3 + 3);
  const [bx, by, bd] = [places[b * 3] - x, places[b * 3 + 1] - y, places[b * 3 + 2] - d];
  const [cx, cy, cd] = [places[c * 3] - x, places[c * 3 + 1] - y, places[c * 3 + 2] - d];
  const area = bx * cy - by * cx;
  // Three in a line tell no plane.
  if (Math.abs(area) < 25) return undefined;
  const px = (bd * cy - by * cd) / area;
  const py = (bx * cd - bd * cx) / area;
  return { x: px, y: py, at0: d - px * x - py * y };
}

function holds(places: Places, plane: Plane): number {
  let held = 0;
  for (let i = 0; i < places.length; i += 3) {
    const off = places[i + 2] - plane.at0 - plane.x * places[i] - plane.y * places[i + 1];
    if (off < ON_PLANE && off > -ON_PLANE) held++;
  }
  return held;
}

function parted(places: Places, plane: Plane): { readonly on: Places; readonly off: Places } {
  const on: number[] = [];
  const off: number[] = [];
  for (let i = 0; i < places.length; i += 3) {
    const away = places[i + 2] - plane.at0 - plane.x * places[i] - plane.y * places[i + 1];
    (away < ON_PLANE && away > -ON_PLANE ? on : off).push(places[i], places[i + 1], places[i + 2]);
  }
  return { on: Float32Array.from(on), off: Float32Array.from(off) };
}

/** The plane of least squares. */
function fitted(places: Places): Plane | undefined {
  const count = places.length / 3;
  if (count < 3) return undefined;
  let [mx, my, md] = [0, 0, 0];
  for (let i = 0; i < places.length; i += 3) {
    mx += places[i] / count;
    my += places[i + 1] / count;
    md += places[i + 2] / count;
  }
  let [xx, xy, yy, xd, yd] = [0, 0, 0, 0, 0];
  for (let i = 0; i < places.length; i += 3) {
    const x = places[i] - mx;
    const y = places[i + 1] - my;
    const d = places[i + 2] - md;
    xx += x * x;
    xy += x * y;
    yy += y * y;
    xd += x * d;
    yd += y * d;
  }
  const area = xx * yy - xy * xy;
  if (area < 1e-6 * xx * yy || area <= 0) return undefined;
  const px = (xd * yy - yd * xy) / area;
  const py = (xx * yd - xy * xd) / area;
  return { x: px, y: py, at0: md - px * mx - py * my };
}

/** Numbers 0 to 1 that look random and are the same every time. Source: Marsaglia, "Xorshift RNGs", 2003. */
function tossing(seed: number): () => number {
  let state = Math.imul(seed, 0x9e3779b9) | 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
}
