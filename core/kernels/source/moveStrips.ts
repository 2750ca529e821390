// What stands in front of a surface's edge pixels (edges.ts), seen from a camera that has moved: strips along its tears, drawn
// over what is seen (AssemblyScript, compiled to WASM SIMD).
//
// Every quad of the raster that has an edge pixel at a corner is drawn as two triangles at the depth of what stands in front
// there. Corners that are no edges are its solid where they lie at that depth, and its end, without coverage, where they do not.

import { ALPHA, EDGE_BYTES, FRONT, NEAR } from './edges';
import {
  aimAt, CLOSEST, e0, e1, e2, endRow, firstRow, m00, m01, m02, m10, m11, m12, m20, m21, m22, mapZ, targetWidth, w0, w1,
} from './meshTarget';
import { colour, putColour } from './pixel';

/** A target pixel of a strip: 0 its number (i32) | 4 rank | 8 alpha (f32) | 16 colour, premultiplied by alpha (f32x4). */
const SLOT: usize = 32, RANK: usize = 4, COVER: usize = 8, FACE: usize = 16;

/** The four corners of a quad, in rows: where they land, rank, alpha, colour. */
const cx = memory.data(16), cy = memory.data(16), cr = memory.data(16), ca = memory.data(16), cc = memory.data(64, 16);
/** The edges at its corners, 0 where there is none, and depths. */
const at = memory.data(16), deep = memory.data(16);

let pixels: usize = 0, depth: usize = 0, bytes: i32 = 0, width: i32 = 0, tear: i32 = 0;
let index: usize = 0, slots: usize = 0, count: i32 = 0, most: i32 = 0, slack: f32 = 0;

/**
 * Draws a surface's strips over what is seen of it, camera to end as drawMesh takes them.
 * edges: its edge pixels, row by row; starts: where each of its rows begins, i32, and one more.
 * nearSlack: so much nearer, in ranks, what the map shows hides a strip. out, state: RGBA and a byte a target pixel
 * (sampleMap.ts), begin with the map's first row. room: i32 for every target pixel, all -1 before and after, and 32 bytes for so
 * many as `mostPixels`; what there is more is left out.
 */
export function drawMoveStrips(
  edges: usize, starts: usize, depthAt: usize, pixelsAt: usize, sampleBytes: i32, wide: i32, height: i32,
  camera: usize, near: f32, far: f32, tearStep: i32, nearSlack: f32, map: usize, mapWidth: i32, top: i32, end: i32,
  out: usize, state: usize, roomIndex: usize, roomSlots: usize, mostPixels: i32,
): void {
  aimAt(camera, near, far, wide, height, false, map, mapWidth, top, end);
  pixels = pixelsAt; depth = depthAt; bytes = sampleBytes; width = wide; tear = tearStep; slack = nearSlack;
  index = roomIndex; slots = roomSlots; count = 0; most = mostPixels;
  for (let y = 0; y < height - 1; y++) {
    let i = load<i32>(starts + (<usize>y << 2)), j = load<i32>(starts + (<usize>y << 2) + 4);
    const iEnd = j, jEnd = load<i32>(starts + (<usize>y << 2) + 8);
    // Every column that has an edge at itself or at the next, once.
    let x = -1;
    while (true) {
      while (i < iEnd && column(edges, i) < x) i++;
      while (j < jEnd && column(edges, j) < x) j++;
      if (i >= iEnd && j >= jEnd) break;
      const first = min(i < iEnd ? column(edges, i) : width, j < jEnd ? column(edges, j) : width);
      x = max(x, first - 1);
      store<u32>(at, <u32>edgeAt(edges, i, iEnd, x)); store<u32>(at + 4, <u32>edgeAt(edges, i, iEnd, x + 1));
      store<u32>(at + 8, <u32>edgeAt(edges, j, jEnd, x)); store<u32>(at + 12, <u32>edgeAt(edges, j, jEnd, x + 1));
      quad(x, y);
      x++;
    }
  }
  lay(out, state);
}

// @ts-ignore: decorator
@inline
function column(edges: usize, n: i32): i32 { return load<i32>(edges + <usize>n * EDGE_BYTES); }

/** The edge at a column, among the first two from n on; 0: none. */
// @ts-ignore: decorator
@inline
function edgeAt(edges: usize, n: i32, end: i32, x: i32): usize {
  if (n < end && column(edges, n) < x) n++;
  return n < end && column(edges, n) == x ? edges + <usize>n * EDGE_BYTES : 0;
}

/** One quad, for each of the depths that stand in front at its corners. */
function quad(x: i32, y: i32): void {
  if (x < 0 || x >= width - 1) return;
  const u = f32x4.add(f32x4.splat(<f32>x), f32x4(0, 1, 0, 1)), v = f32x4.add(f32x4.splat(<f32>y), f32x4(0, 0, 1, 1));
  const upper = <usize>(y * width + x), lower = upper + <usize>width;
  let done = 0;
  for (let n = 0; n < 4; n++) {
    const edge = <usize>load<u32>(at + (<usize>n << 2));
    if (edge == 0 || done & (1 << n)) continue;
    const front = <i32>load<u16>(edge + NEAR);
    const own = i32x4(load<u16>(depth + (upper << 1)), load<u16>(depth + (upper << 1) + 2), load<u16>(depth + (lower << 1)),
      load<u16>(depth + (lower << 1) + 2));
    const solid = i32x4.bitmask(i32x4.le_s(i32x4.abs(i32x4.sub(own, i32x4.splat(front))), i32x4.splat(tear)));
    v128.store(deep, own);
    // Which corners are its edges; the others are its solid, or its end.
    let strip = 0;
    let most: f32 = 0;
    for (let k = 0; k < 4; k++) {
      const o = <usize>k << 2;
      const beside = <usize>load<u32>(at + o);
      let alpha: f32 = 0;
      if (beside && abs(<i32>load<u16>(beside + NEAR) - front) <= tear) {
        strip |= 1 << k;
        store<i32>(deep + o, <i32>load<u16>(beside + NEAR));
        alpha = load<f32>(beside + ALPHA);
      } else if (solid & (1 << k)) alpha = 1;
      else store<i32>(deep + o, front);
      store<f32>(ca + o, alpha);
      most = max(most, alpha);
    }
    done |= strip | (1 << n);
    if (most < 0.01) continue;
    const w = f32x4.add(f32x4.splat(w0), f32x4.mul(f32x4.splat(w1), f32x4.convert_i32x4_s(v128.load(deep))));
    const z = across(u, v, m20, m21, m22, w, e2);
    if (i32x4.bitmask(f32x4.lt(z, f32x4.splat(CLOSEST)))) continue;
    const inverse = f32x4.div(f32x4.splat(1), z);
    const px = f32x4.mul(across(u, v, m00, m01, m02, w, e0), inverse);
    const py = f32x4.mul(across(u, v, m10, m11, m12, w, e1), inverse);
    if (holdsNone(px, targetWidth - 1, 0) || holdsNone(py, endRow - 1, firstRow)) continue;
    v128.store(cx, px); v128.store(cy, py);
    v128.store(cr, f32x4.max(f32x4.mul(w, inverse), f32x4.splat(0)));
    for (let k = 0; k < 4; k++) {
      const o = <usize>k << 2;
      let face = f32x4.splat(0);
      if (strip & (1 << k)) {
        const beside = <usize>load<u32>(at + o);
        face = f32x4.convert_i32x4_u(i32x4.extend_low_i16x8_u(v128.load64_zero(beside + FRONT)));
        if (bytes == 4) face = f32x4.mul(face, f32x4.splat(1 / <f32>256));
      } else if (load<f32>(ca + o) == 1) face = colour(pixels + ((k < 2 ? upper : lower) + <usize>(k & 1)) * <usize>bytes, bytes);
      v128.store(cc + (o << 2), face);
    }
    triangle(0, 1, 2);
    triangle(1, 3, 2);
  }
}

/** One coordinate of four corners before it is divided by depth. */
// @ts-ignore: decorator
@inline
function across(u: v128, v: v128, a: f32, b: f32, c: f32, w: v128, e: f32): v128 {
  return f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(a), u), f32x4.add(f32x4.mul(f32x4.splat(b), v), f32x4.splat(c))),
    f32x4.mul(w, f32x4.splat(e)));
}

/** Whether no whole number from least to most lies between four places. */
// @ts-ignore: decorator
@inline
function holdsNone(p: v128, most: i32, least: i32): bool {
  const two = f32x4.min(p, v128.shuffle<u32>(p, p, 2, 3, 0, 1)), far = f32x4.max(p, v128.shuffle<u32>(p, p, 2, 3, 0, 1));
  const low = ceil(min<f32>(f32x4.extract_lane(two, 0), f32x4.extract_lane(two, 1)));
  const high = floor(max<f32>(f32x4.extract_lane(far, 0), f32x4.extract_lane(far, 1)));
  return low > high || high < <f32>least || low > <f32>most;
}

/** A triangle of a quad's corners. */
function triangle(a: usize, b: usize, c: usize): void {
  const a4 = a << 2, b4 = b << 2, c4 = c << 2;
  const ax = load<f32>(cx + a4), ay = load<f32>(cy + a4);
  const ex = load<f32>(cx + b4) - ax, ey = load<f32>(cy + b4) - ay, fx = load<f32>(cx + c4) - ax, fy = load<f32>(cy + c4) - ay;
  const area = ex * fy - ey * fx;
  if (area <= 1e-6) return;
  const inverse: f32 = 1 / area;
  const s0 = max(<i32>ceil(ax + min<f32>(0, min(ex, fx))), 0), t0 = max(<i32>ceil(ay + min<f32>(0, min(ey, fy))), firstRow);
  const s1 = min(<i32>floor(ax + max<f32>(0, max(ex, fx))), targetWidth - 1);
  const t1 = min(<i32>floor(ay + max<f32>(0, max(ey, fy))), endRow - 1);
  const alpha = load<f32>(ca + a4), rank = load<f32>(cr + a4);
  for (let t = t0; t <= t1; t++) {
    for (let s = s0; s <= s1; s++) {
      const ox = <f32>s - ax, oy = <f32>t - ay;
      const i = (ox * fy - oy * fx) * inverse, j = (oy * ex - ox * ey) * inverse;
      if (i < -0.0001 || j < -0.0001 || i + j > 1.0001) continue;
      const cover = alpha + i * (load<f32>(ca + b4) - alpha) + j * (load<f32>(ca + c4) - alpha);
      if (cover < 0.002) continue;
      const r = rank + i * (load<f32>(cr + b4) - rank) + j * (load<f32>(cr + c4) - rank);
      const pixel = (t - firstRow) * targetWidth + s;
      if (load<f32>(mapZ + (<usize>pixel << 2)) > r + slack) continue;
      const face = v128.load(cc + (a4 << 2));
      take(pixel, r, cover, f32x4.add(face, f32x4.add(
        f32x4.mul(f32x4.sub(v128.load(cc + (b4 << 2)), face), f32x4.splat(i)),
        f32x4.mul(f32x4.sub(v128.load(cc + (c4 << 2)), face), f32x4.splat(j)))));
    }
  }
}

/** One target pixel: the nearer strip lies over the farther one, and of one that meets itself what covers more counts. */
// @ts-ignore: decorator
@inline
function take(pixel: i32, rank: f32, cover: f32, face: v128): void {
  let n = load<i32>(index + (<usize>pixel << 2));
  if (n < 0) {
    if (count >= most) return;
    n = count++;
    store<i32>(index + (<usize>pixel << 2), n);
  } else {
    const slot = slots + <usize>n * SLOT;
    const was = load<f32>(slot + RANK), covered = load<f32>(slot + COVER), seen = v128.load(slot + FACE);
    if (rank + slack < was) {
      v128.store(slot + FACE, f32x4.add(seen, f32x4.mul(face, f32x4.splat(1 - covered))));
      store<f32>(slot + COVER, covered + (1 - covered) * cover);
      return;
    }
    if (rank > was + slack) {
      face = f32x4.add(face, f32x4.mul(seen, f32x4.splat(1 - cover)));
      cover += (1 - cover) * covered;
    } else if (cover <= covered) return;
  }
  const slot = slots + <usize>n * SLOT;
  store<i32>(slot, pixel);
  store<f32>(slot + RANK, rank);
  store<f32>(slot + COVER, cover);
  v128.store(slot + FACE, face);
}

/** Lays what was taken over what is seen. */
function lay(out: usize, state: usize): void {
  const unit: f32 = bytes == 8 ? 1 / <f32>65535 : 1 / <f32>255;
  for (let n = 0; n < count; n++) {
    const slot = slots + <usize>n * SLOT;
    const pixel = <usize>load<i32>(slot);
    const to = out + pixel * <usize>bytes;
    store<i32>(index + (pixel << 2), -1);
    const face = v128.load(slot + FACE);
    const cover = min<f32>(f32x4.extract_lane(face, 3) * unit, 1);
    putColour(to, f32x4.add(face, f32x4.mul(colour(to, bytes), f32x4.splat(1 - cover))), bytes);
    if (cover >= 0.5) store<u8>(state + pixel, 0);
  }
}
