// A surface seen from a camera that has moved: its pixels' mesh is drawn into a map of where every target pixel comes from
// (AssemblyScript, compiled to WASM SIMD). Colours are sampled once, from the finished map (sampleMap.ts).
//
// A raster pixel (x, y) with inverse distance w lands at p ~ M (x, y, 1) - w e. The map holds three planes of f32: where a target pixel
// comes from (x, y), and its rank: 0 and more the inverse distance from the moved camera (the nearer wins); -1 to 0 what a tear opens,
// drawn from its farther side; -3 to -2 what lies beyond the surface's border, its outermost pixels going on; EMPTY where nothing lands.
// Source: docs/computations.md, A camera through the picture.

export const EMPTY: f32 = -4;
const CELL: i32 = 8;
/** Cells that are not planar are looked at in quarters. */
const QUARTER: i32 = 4;
/** A quad that strays less from a parallelogram is drawn as one, px. */
const SKEW: f32 = 0.02;
/** Planar cells are drawn larger by this, px, so that no crack opens between neighbours. */
const OVERLAP: f32 = 0.12;
/** Nearer to the camera than this share of its old distance nothing is drawn. */
const CLOSEST: f32 = 0.02;

// A quarter's corners, at most 4 + 1 and two beyond each border: where they lie in the raster and in the target.
const SLOTS: i32 = 12;
const xs = memory.data(64), ixs = memory.data(64), ys = memory.data(64), iys = memory.data(64);
const px = memory.data(576), py = memory.data(576), rank = memory.data(576), front = memory.data(576);
const deep = memory.data(576), clear = memory.data(576);

// What stays the same through a call.
let mapX: usize, mapY: usize, mapZ: usize;
let targetWidth: i32, firstRow: i32, endRow: i32;
let m00: f32, m01: f32, m02: f32, m10: f32, m11: f32, m12: f32, m20: f32, m21: f32, m22: f32, e0: f32, e1: f32, e2: f32;
let w0: f32, w1: f32;
let mayBeClear: bool;
/** How far the outermost pixels go on, px of the raster. */
let beyondPx: f32;

/** Marks the whole map as empty. */
export function clearMap(map: usize, count: i32): void {
  const none = f32x4.splat(EMPTY);
  const ranks = map + (<usize>count << 3);
  for (let i = 0; i < count; i += 4) v128.store(ranks + (<usize>i << 2), none);
}

/**
 * Draws a surface into rows of the map.
 * @param depth u16 of every pixel
 * @param pixels RGBA, so that what is wholly clear is left out; 0: all is drawn
 * @param cells of 8 x 8 pixels, row by row, each f32: a, b, c of the plane a + b x + c y through its depths (x, y from its upper left
 *   corner) and how far they stray from it; less than 0: nothing shows
 * @param quarters the same of 4 x 4 pixels
 * @param camera f32: M row by row, then e
 * @param near, far inverse distances of depth 65535 and 0
 * @param planar how far depths may stray for a cell to be drawn in one piece
 * @param tear depth step beyond which neighbours are not joined
 * @param goOn whether the outermost pixels go on beyond the border
 * @param map three planes of f32, width x (end - top)
 */
export function drawMesh(
  depth: usize, pixels: usize, bytes: i32, width: i32, height: i32, cells: usize, quarters: usize,
  camera: usize, near: f32, far: f32, planar: f32, tear: i32, goOn: i32,
  map: usize, mapWidth: i32, top: i32, end: i32,
): void {
  const count = mapWidth * (end - top);
  mapX = map; mapY = map + (<usize>count << 2); mapZ = map + (<usize>count << 3);
  targetWidth = mapWidth; firstRow = top; endRow = end;
  m00 = load<f32>(camera); m01 = load<f32>(camera, 4); m02 = load<f32>(camera, 8);
  m10 = load<f32>(camera, 12); m11 = load<f32>(camera, 16); m12 = load<f32>(camera, 20);
  m20 = load<f32>(camera, 24); m21 = load<f32>(camera, 28); m22 = load<f32>(camera, 32);
  e0 = load<f32>(camera, 36); e1 = load<f32>(camera, 40); e2 = load<f32>(camera, 44);
  mayBeClear = pixels != 0;
  w0 = far; w1 = (near - far) / 65535;
  beyondPx = <f32>max(width, height) * 0.5 + 64;
  const across = (width + CELL - 1) / CELL, down = (height + CELL - 1) / CELL;
  const finer = (width + QUARTER - 1) / QUARTER;
  let cell = cells;
  for (let r = 0; r < down; r++) {
    for (let c = 0; c < across; c++, cell += 16) {
      const strays = load<f32>(cell, 12);
      if (strays < 0) continue;
      const edge = goOn != 0 && (r == 0 || c == 0 || r == down - 1 || c == across - 1);
      if (strays <= planar && !edge) { piece(cell, c * CELL, r * CELL, CELL, width, height); continue; }
      for (let q = 0; q < 4; q++) {
        const x = c * CELL + (q & 1) * QUARTER, y = r * CELL + (q >> 1) * QUARTER;
        if (x >= width || y >= height) continue;
        const part = quarters + <usize>(((y >> 2) * finer + (x >> 2)) << 4);
        const partStrays = load<f32>(part, 12);
        if (partStrays < 0) continue;
        if (partStrays <= planar && !edge) piece(part, x, y, QUARTER, width, height);
        else quads(depth, pixels, bytes, width, height, x, y, tear, goOn != 0);
      }
    }
  }
}

/** A cell as one affine piece, drawn from the place and the slopes at its middle. */
function piece(cell: usize, x: i32, y: i32, side: i32, width: i32, height: i32): void {
  const lowX: f32 = x == 0 ? -0.5 : 0, lowY: f32 = y == 0 ? -0.5 : 0;
  const highX = x + side >= width ? <f32>(width - 1 - x) + 0.5 : <f32>side;
  const highY = y + side >= height ? <f32>(height - 1 - y) + 0.5 : <f32>side;
  const mx = (lowX + highX) * 0.5, my = (lowY + highY) * 0.5;
  const pb = load<f32>(cell, 4) * w1, pc = load<f32>(cell, 8) * w1;
  const w = w0 + w1 * load<f32>(cell) + pb * mx + pc * my;
  const gx = <f32>x + mx, gy = <f32>y + my;
  const z = m20 * gx + m21 * gy + m22 - w * e2;
  if (z < CLOSEST) return;
  const inverse: f32 = 1 / z;
  const cx = (m00 * gx + m01 * gy + m02 - w * e0) * inverse, cy = (m10 * gx + m11 * gy + m12 - w * e1) * inverse;
  // Slopes of the target place by the raster's, along the plane.
  const zx = m20 - pb * e2, zy = m21 - pc * e2;
  const ax = (m00 - pb * e0 - cx * zx) * inverse, ay = (m10 - pb * e1 - cy * zx) * inverse;
  const bx = (m01 - pc * e0 - cx * zy) * inverse, by = (m11 - pc * e1 - cy * zy) * inverse;
  const area = ax * by - ay * bx;
  if (area <= 1e-6) return;
  const halfX = (highX - lowX) * 0.5, halfY = (highY - lowY) * 0.5;
  // Overlap in raster px: the height of the piece over each of its sides.
  const overX = OVERLAP * sqrt<f32>(bx * bx + by * by) / area, overY = OVERLAP * sqrt<f32>(ax * ax + ay * ay) / area;
  const hx = halfX + overX, hy = halfY + overY;
  const reachY = hx * abs(ay) + hy * abs(by);
  const y0 = max(<i32>ceil(cy - reachY), firstRow), y1 = min(<i32>floor(cy + reachY), endRow - 1);
  if (y0 > y1) return;
  const reachX = hx * abs(ax) + hy * abs(bx);
  if (cx + reachX < 0 || cx - reachX > <f32>(targetWidth - 1)) return;
  const ix = by / area, jx = -ay / area, iy = -bx / area, jy = ax / area;
  const near = w * inverse;
  const nearX = (pb - near * zx) * inverse, nearY = (pc - near * zy) * inverse;
  // Rank by target px.
  const rx = nearX * ix + nearY * jx, ry = nearX * iy + nearY * jy;
  for (let t = y0; t <= y1; t++) {
    const dy = <f32>t - cy;
    from = -cx; to = <f32>(targetWidth - 1) - cx;
    // i = iy dy + ix dx within -hx to hx, and j alike.
    const i0 = iy * dy, j0 = jy * dy;
    limit(ix, hx + i0); limit(-ix, hx - i0);
    limit(jx, hy + j0); limit(-jx, hy - j0);
    const s0 = <i32>ceil(from + cx), s1 = <i32>floor(to + cx);
    if (s0 > s1) continue;
    const at = <usize>((t - firstRow) * targetWidth + s0) << 2;
    const dx0 = <f32>s0 - cx;
    const step = f32x4(0, 1, 2, 3);
    let u = f32x4.add(f32x4.splat(gx + i0 + ix * dx0), f32x4.mul(step, f32x4.splat(ix)));
    let v = f32x4.add(f32x4.splat(gy + j0 + jx * dx0), f32x4.mul(step, f32x4.splat(jx)));
    let n = f32x4.add(f32x4.splat(near + ry * dy + rx * dx0), f32x4.mul(step, f32x4.splat(rx)));
    const zero = f32x4.splat(0);
    for (let s = 0, left = s1 - s0 + 1; left > 0; s += 16, left -= 4) {
      const o = at + <usize>s;
      const nn = f32x4.max(n, zero);
      const old = v128.load(mapZ + o);
      let win = f32x4.gt(nn, old);
      if (left < 4) win = v128.and(win, i32x4.gt_s(i32x4.splat(left), i32x4(0, 1, 2, 3)));
      if (v128.any_true(win)) {
        v128.store(mapZ + o, v128.bitselect(nn, old, win));
        v128.store(mapX + o, v128.bitselect(u, v128.load(mapX + o), win));
        v128.store(mapY + o, v128.bitselect(v, v128.load(mapY + o), win));
      }
      u = f32x4.add(u, f32x4.splat(ix * 4)); v = f32x4.add(v, f32x4.splat(jx * 4)); n = f32x4.add(n, f32x4.splat(rx * 4));
    }
  }
}

/** Where corners lie along one side of a quarter: its pixels, half a pixel more at the border, and far beyond it. */
function places(at: usize, index: usize, start: i32, size: i32, goOn: bool): i32 {
  let n = 0;
  if (start == 0) {
    if (goOn) n = place(at, index, n, -beyondPx, 0);
    n = place(at, index, n, -0.5, 0);
  }
  const end = min(start + QUARTER, size - 1);
  for (let k = start; k <= end; k++) n = place(at, index, n, <f32>k, k);
  if (start + QUARTER >= size) {
    n = place(at, index, n, <f32>(size - 1) + 0.5, size - 1);
    if (goOn) n = place(at, index, n, <f32>(size - 1) + beyondPx, size - 1);
  }
  return n;
}

// @ts-ignore: decorator
@inline
function place(at: usize, index: usize, n: i32, x: f32, k: i32): i32 {
  store<f32>(at + (<usize>n << 2), x);
  store<i32>(index + (<usize>n << 2), k);
  return n + 1;
}

// @ts-ignore: decorator
@inline
function isClear(pixels: usize, bytes: i32, i: usize): i32 {
  return (bytes == 8 ? <i32>load<u16>(pixels + (i << 3) + 6) : <i32>load<u8>(pixels + (i << 2) + 3)) == 0 ? 1 : 0;
}

/** A quarter of a cell quad by quad. */
function quads(depth: usize, pixels: usize, bytes: i32, width: i32, height: i32, x: i32, y: i32, tear: i32, goOn: bool): void {
  const nx = places(xs, ixs, x, width, goOn), ny = places(ys, iys, y, height, goOn);
  // Four corners are reckoned at once: what fills the last four up are repetitions.
  for (let k = nx; k & 3; k++) place(xs, ixs, k, load<f32>(xs + (<usize>(nx - 1) << 2)), load<i32>(ixs + (<usize>(nx - 1) << 2)));
  for (let l = 0; l < ny; l++) {
    const gy = load<f32>(ys + (<usize>l << 2));
    const line = load<i32>(iys + (<usize>l << 2)) * width;
    const rx = f32x4.splat(m01 * gy + m02), ry = f32x4.splat(m11 * gy + m12), rz = f32x4.splat(m21 * gy + m22);
    for (let k = 0; k < nx; k += 4) {
      const slot = <usize>(l * SLOTS + k) << 2;
      const gx = v128.load(xs + (<usize>k << 2));
      const i = i32x4.add(i32x4.splat(line), v128.load(ixs + (<usize>k << 2)));
      const i0 = <usize>i32x4.extract_lane(i, 0), i1 = <usize>i32x4.extract_lane(i, 1), i2 = <usize>i32x4.extract_lane(i, 2), i3 = <usize>i32x4.extract_lane(i, 3);
      let d = i32x4.splat(<i32>load<u16>(depth + (i0 << 1)));
      d = i32x4.replace_lane(d, 1, <i32>load<u16>(depth + (i1 << 1)));
      d = i32x4.replace_lane(d, 2, <i32>load<u16>(depth + (i2 << 1)));
      d = i32x4.replace_lane(d, 3, <i32>load<u16>(depth + (i3 << 1)));
      const w = f32x4.add(f32x4.splat(w0), f32x4.mul(f32x4.splat(w1), f32x4.convert_i32x4_u(d)));
      const z = f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(m20), gx), rz), f32x4.mul(w, f32x4.splat(e2)));
      const inverse = f32x4.div(f32x4.splat(1), z);
      v128.store(deep + slot, d);
      v128.store(front + slot, z);
      v128.store(px + slot, f32x4.mul(f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(m00), gx), rx), f32x4.mul(w, f32x4.splat(e0))), inverse));
      v128.store(py + slot, f32x4.mul(f32x4.sub(f32x4.add(f32x4.mul(f32x4.splat(m10), gx), ry), f32x4.mul(w, f32x4.splat(e1))), inverse));
      v128.store(rank + slot, f32x4.max(f32x4.mul(w, inverse), f32x4.splat(0)));
      if (pixels != 0) {
        store<i32>(clear + slot, isClear(pixels, bytes, i0));
        store<i32>(clear + slot + 4, isClear(pixels, bytes, i1));
        store<i32>(clear + slot + 8, isClear(pixels, bytes, i2));
        store<i32>(clear + slot + 12, isClear(pixels, bytes, i3));
      }
    }
  }
  for (let l = 0; l < ny - 1; l++) {
    const beyondRow = load<f32>(ys + (<usize>l << 2)) < -1 || load<f32>(ys + (<usize>l << 2) + 4) > <f32>height;
    const aboveRow = <usize>(l * SLOTS) << 2;
    for (let k = 0; k < nx - 1; k += 4) {
      const valid = min(nx - 1 - k, 4);
      const rest = beyondRow ? (1 << valid) - 1 : fourQuads(aboveRow + (<usize>k << 2), k, l, valid, tear, <f32>width);
      for (let n = 0; n < valid; n++) {
        if (!(rest & (1 << n))) continue;
        const x = load<f32>(xs + (<usize>(k + n) << 2)), next = load<f32>(xs + (<usize>(k + n) << 2) + 4);
        quad(l * SLOTS + k + n, k + n, l, tear, beyondRow || x < -1 || next > <f32>width);
      }
    }
  }
}

/**
 * Draws of four quads side by side those that are joined, nearly parallelograms, and hold one target pixel at most. Returns which are left,
 * a bit each.
 */
// @ts-ignore: decorator
@inline
function fourQuads(a: usize, k: i32, l: i32, valid: i32, tear: i32, width: f32): i32 {
  const c = a + (<usize>SLOTS << 2);
  const da = v128.load(deep + a), db = v128.load(deep + a + 4), dc = v128.load(deep + c), dd = v128.load(deep + c + 4);
  const step = i32x4.sub(
    i32x4.max_u(i32x4.max_u(da, db), i32x4.max_u(dc, dd)), i32x4.min_u(i32x4.min_u(da, db), i32x4.min_u(dc, dd)));
  const ax = v128.load(px + a), bx = v128.load(px + a + 4), cx = v128.load(px + c), dx = v128.load(px + c + 4);
  const ay = v128.load(py + a), by = v128.load(py + a + 4), cy = v128.load(py + c), dy = v128.load(py + c + 4);
  const x = v128.load(xs + (<usize>k << 2)), next = v128.load(xs + (<usize>k << 2) + 4);
  const torn = v128.or(i32x4.gt_s(step, i32x4.splat(tear)), v128.or(f32x4.lt(x, f32x4.splat(-1)), f32x4.gt(next, f32x4.splat(width))));
  const one = f32x4.splat(1);
  const s = f32x4.ceil(f32x4.min(f32x4.min(ax, bx), f32x4.min(cx, dx))), right = f32x4.max(f32x4.max(ax, bx), f32x4.max(cx, dx));
  const t = f32x4.ceil(f32x4.min(f32x4.min(ay, by), f32x4.min(cy, dy))), below = f32x4.max(f32x4.max(ay, by), f32x4.max(cy, dy));
  const holds = v128.and(f32x4.le(s, right), f32x4.le(t, below));
  // What lies exactly on the right or lower side is the next one's.
  const single = v128.and(f32x4.ge(f32x4.add(s, one), right), f32x4.ge(f32x4.add(t, one), below));
  const skew = f32x4.add(
    f32x4.abs(f32x4.add(f32x4.sub(f32x4.sub(dx, bx), cx), ax)), f32x4.abs(f32x4.add(f32x4.sub(f32x4.sub(dy, by), cy), ay)));
  const inFront = f32x4.ge(f32x4.min(
    f32x4.min(v128.load(front + a), v128.load(front + a + 4)), f32x4.min(v128.load(front + c), v128.load(front + c + 4))), f32x4.splat(CLOSEST));
  const simple = v128.and(v128.and(single, f32x4.lt(skew, f32x4.splat(SKEW))), v128.and(inFront, v128.not(torn)));
  const mine = (1 << valid) - 1;
  const rest = i32x4.bitmask(v128.or(torn, v128.andnot(holds, simple))) & mine;
  const inside = v128.and(
    v128.and(f32x4.ge(s, f32x4.splat(0)), f32x4.le(s, f32x4.splat(<f32>(targetWidth - 1)))),
    v128.and(f32x4.ge(t, f32x4.splat(<f32>firstRow)), f32x4.le(t, f32x4.splat(<f32>(endRow - 1)))));
  let draw = v128.and(v128.and(simple, holds), inside);
  if (!(i32x4.bitmask(draw) & mine)) return rest;
  const ex = f32x4.sub(bx, ax), ey = f32x4.sub(by, ay), fx = f32x4.sub(cx, ax), fy = f32x4.sub(cy, ay);
  const area = f32x4.sub(f32x4.mul(ex, fy), f32x4.mul(ey, fx));
  const inverse = f32x4.div(one, area);
  const ox = f32x4.sub(s, ax), oy = f32x4.sub(t, ay);
  const i = f32x4.mul(f32x4.sub(f32x4.mul(ox, fy), f32x4.mul(oy, fx)), inverse);
  const j = f32x4.mul(f32x4.sub(f32x4.mul(oy, ex), f32x4.mul(ox, ey)), inverse);
  const least = f32x4.splat(-SKEW), most = f32x4.splat(1 + SKEW);
  draw = v128.and(draw, v128.and(
    f32x4.gt(area, f32x4.splat(1e-6)),
    v128.and(v128.and(f32x4.ge(i, least), f32x4.le(i, most)), v128.and(f32x4.ge(j, least), f32x4.le(j, most)))));
  if (mayBeClear) {
    const none = v128.and(
      v128.and(v128.load(clear + a), v128.load(clear + a + 4)), v128.and(v128.load(clear + c), v128.load(clear + c + 4)));
    draw = v128.andnot(draw, i32x4.ne(none, i32x4.splat(0)));
  }
  const drawn = i32x4.bitmask(draw) & mine;
  if (!drawn) return rest;
  const y0 = load<f32>(ys + (<usize>l << 2));
  const u = f32x4.add(x, f32x4.mul(i, f32x4.sub(next, x)));
  const v = f32x4.add(f32x4.splat(y0), f32x4.mul(j, f32x4.splat(load<f32>(ys + (<usize>l << 2) + 4) - y0)));
  const ra = v128.load(rank + a);
  const r = f32x4.add(ra, f32x4.add(
    f32x4.mul(i, f32x4.sub(v128.load(rank + a + 4), ra)), f32x4.mul(j, f32x4.sub(v128.load(rank + c), ra))));
  const at = i32x4.trunc_sat_f32x4_s(f32x4.add(f32x4.mul(f32x4.sub(t, f32x4.splat(<f32>firstRow)), f32x4.splat(<f32>targetWidth)), s));
  if (drawn & 1) putAt(i32x4.extract_lane(at, 0), f32x4.extract_lane(u, 0), f32x4.extract_lane(v, 0), f32x4.extract_lane(r, 0));
  if (drawn & 2) putAt(i32x4.extract_lane(at, 1), f32x4.extract_lane(u, 1), f32x4.extract_lane(v, 1), f32x4.extract_lane(r, 1));
  if (drawn & 4) putAt(i32x4.extract_lane(at, 2), f32x4.extract_lane(u, 2), f32x4.extract_lane(v, 2), f32x4.extract_lane(r, 2));
  if (drawn & 8) putAt(i32x4.extract_lane(at, 3), f32x4.extract_lane(u, 3), f32x4.extract_lane(v, 3), f32x4.extract_lane(r, 3));
  return rest;
}

/** One quad of the mesh: joined, or torn. Its corners: a b above, c d below. */
function quad(slot: i32, k: i32, l: i32, tear: i32, beyond: bool): void {
  const a = <usize>slot << 2, b = a + 4, c = a + (<usize>SLOTS << 2), d = c + 4;
  if (mayBeClear && load<i32>(clear + a) & load<i32>(clear + b) & load<i32>(clear + c) & load<i32>(clear + d)) return;
  if (min(min(load<f32>(front + a), load<f32>(front + b)), min(load<f32>(front + c), load<f32>(front + d))) < CLOSEST) return;
  const da = load<i32>(deep + a), db = load<i32>(deep + b), dc = load<i32>(deep + c), dd = load<i32>(deep + d);
  const farthest = min(min(da, db), min(dc, dd)), nearest = max(max(da, db), max(dc, dd));
  const ax = load<f32>(px + a), ay = load<f32>(py + a), bx = load<f32>(px + b), by = load<f32>(py + b);
  const cx = load<f32>(px + c), cy = load<f32>(py + c), dx = load<f32>(px + d), dy = load<f32>(py + d);
  const left = min(min(ax, bx), min(cx, dx)), right = max(max(ax, bx), max(cx, dx));
  const above = min(min(ay, by), min(cy, dy)), below = max(max(ay, by), max(cy, dy));
  const torn = nearest - farthest > tear;
  const room: f32 = torn ? 1 : 0;
  if (right < -room || left > <f32>(targetWidth - 1) + room || below < <f32>firstRow - room || above > <f32>(endRow - 1) + room) return;
  const x0 = load<f32>(xs + (<usize>k << 2)), x1 = load<f32>(xs + (<usize>k << 2) + 4);
  const y0 = load<f32>(ys + (<usize>l << 2)), y1 = load<f32>(ys + (<usize>l << 2) + 4);
  if (!torn) {
    // What lies beyond the border ranks behind everything else.
    const f: f32 = beyond ? 0.1 : 1, o: f32 = beyond ? -3 : 0;
    if (!beyond && (ceil(left) > right || ceil(above) > below)) return;
    const sx = dx - bx - cx + ax, sy = dy - by - cy + ay;
    if (!beyond && abs(sx) + abs(sy) < SKEW) {
      const ex = bx - ax, ey = by - ay, fx = cx - ax, fy = cy - ay;
      const area = ex * fy - ey * fx;
      if (area <= 1e-6) return;
      const inverse: f32 = 1 / area;
      const r = load<f32>(rank + a), rs = load<f32>(rank + b) - r, rt = load<f32>(rank + c) - r;
      const s0 = max(<i32>ceil(left), 0), s1 = min(<i32>floor(right), targetWidth - 1);
      const t0 = max(<i32>ceil(above), firstRow), t1 = min(<i32>floor(below), endRow - 1);
      // As much larger as it may stray, so that no crack opens.
      const least: f32 = -SKEW, most: f32 = 1 + SKEW;
      for (let t = t0; t <= t1; t++) {
        for (let s = s0; s <= s1; s++) {
          const px = <f32>s - ax, py = <f32>t - ay;
          const i = (px * fy - py * fx) * inverse, j = (py * ex - px * ey) * inverse;
          if (i < least || i > most || j < least || j > most) continue;
          put(s, t, x0 + i * (x1 - x0), y0 + j * (y1 - y0), r + i * rs + j * rt);
        }
      }
      return;
    }
    const ra = o + f * load<f32>(rank + a), rb = o + f * load<f32>(rank + b), rc = o + f * load<f32>(rank + c), rd = o + f * load<f32>(rank + d);
    triangle(ax, ay, bx, by, cx, cy, x0, y0, x1, y0, x0, y1, ra, rb, rc);
    triangle(bx, by, dx, dy, cx, cy, x1, y0, x1, y1, x0, y1, rb, rd, rc);
    return;
  }
  if (!beyond) {
    const ab = abs(da - db) > tear, cd = abs(dc - dd) > tear, ac = abs(da - dc) > tear, bd = abs(db - dd) > tear;
    corner(a, x0, y0, (x1 - x0) * 0.5, (y1 - y0) * 0.5, ab, ac);
    corner(b, x1, y0, (x0 - x1) * 0.5, (y1 - y0) * 0.5, ab, bd);
    corner(c, x0, y1, (x1 - x0) * 0.5, (y0 - y1) * 0.5, cd, ac);
    corner(d, x1, y1, (x0 - x1) * 0.5, (y0 - y1) * 0.5, cd, bd);
  }
  // What the tear opens shows its farther side: near corners take the place of the far corner beside, below or across.
  const half = (nearest + farthest) >> 1;
  const fa = da <= half, fb = db <= half, fc = dc <= half, fd = dd <= half;
  const ua = fa ? x0 : fb ? x1 : fc ? x0 : x1, va = fa ? y0 : fb ? y0 : y1;
  const ub = fb ? x1 : fa ? x0 : fd ? x1 : x0, vb = fb ? y0 : fa ? y0 : y1;
  const uc = fc ? x0 : fd ? x1 : fa ? x0 : x1, vc = fc ? y1 : fd ? y1 : y0;
  const ud = fd ? x1 : fc ? x0 : fb ? x1 : x0, vd = fd ? y1 : fc ? y1 : y0;
  const o: f32 = beyond ? -3 : -1;
  const r = o + 0.1 * min<f32>(min(min(load<f32>(rank + a), load<f32>(rank + b)), min(load<f32>(rank + c), load<f32>(rank + d))), 9);
  triangle(ax, ay, bx, by, cx, cy, ua, va, ub, vb, uc, vc, r, r, r);
  triangle(bx, by, dx, dy, cx, cy, ub, vb, ud, vd, uc, vc, r, r, r);
}

/** At a tear every corner owns half a pixel at its own depth: nothing is sampled across it, sideways or downwards. */
function corner(s: usize, x: f32, y: f32, hx: f32, hy: f32, tornX: bool, tornY: bool): void {
  const inverse: f32 = 1 / load<f32>(front + s);
  const cx = load<f32>(px + s), cy = load<f32>(py + s), r = load<f32>(rank + s);
  const ax = (m00 - cx * m20) * inverse, ay = (m10 - cy * m20) * inverse;
  const bx = (m01 - cx * m21) * inverse, by = (m11 - cy * m21) * inverse;
  const area = ax * by - ay * bx;
  if (area <= 1e-6) return;
  const qx = cx + ax * hx + bx * hy, qy = cy + ay * hx + by * hy;
  const reachX = abs(ax * hx) + abs(bx * hy), reachY = abs(ay * hx) + abs(by * hy);
  const mx = (cx + qx) * 0.5, my = (cy + qy) * 0.5;
  const t0 = max(<i32>ceil(my - reachY * 0.5), firstRow), t1 = min(<i32>floor(my + reachY * 0.5), endRow - 1);
  const s0 = max(<i32>ceil(mx - reachX * 0.5), 0), s1 = min(<i32>floor(mx + reachX * 0.5), targetWidth - 1);
  const lowI = min<f32>(0, hx), highI = max<f32>(0, hx), lowJ = min<f32>(0, hy), highJ = max<f32>(0, hy);
  for (let t = t0; t <= t1; t++) {
    for (let q = s0; q <= s1; q++) {
      const dx = <f32>q - cx, dy = <f32>t - cy;
      const i = (dx * by - dy * bx) / area, j = (dy * ax - dx * ay) / area;
      if (i < lowI || i > highI || j < lowJ || j > highJ) continue;
      put(q, t, tornX ? x : x + i, tornY ? y : y + j, r);
    }
  }
}

// @ts-ignore: decorator
@inline
function put(x: i32, y: i32, u: f32, v: f32, r: f32): void {
  putAt((y - firstRow) * targetWidth + x, u, v, r);
}

// @ts-ignore: decorator
@inline
function putAt(pixel: i32, u: f32, v: f32, r: f32): void {
  const at = <usize>pixel << 2;
  if (r > load<f32>(mapZ + at)) {
    store<f32>(mapZ + at, r);
    store<f32>(mapX + at, u);
    store<f32>(mapY + at, v);
  }
}

/** One triangle; what is folded over shows nothing. */
function triangle(ax: f32, ay: f32, bx: f32, by: f32, cx: f32, cy: f32,
  ua: f32, va: f32, ub: f32, vb: f32, uc: f32, vc: f32, ra: f32, rb: f32, rc: f32): void {
  const area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax);
  if (area <= 1e-7) return;
  const s0 = max(<i32>ceil(max<f32>(min(min(ax, bx), cx), -1)), 0), s1 = min(<i32>floor(min<f32>(max(max(ax, bx), cx), 1e6)), targetWidth - 1);
  const t0 = max(<i32>ceil(max<f32>(min(min(ay, by), cy), -1)), firstRow), t1 = min(<i32>floor(min<f32>(max(max(ay, by), cy), 1e6)), endRow - 1);
  if (s0 > s1 || t0 > t1) return;
  const inverse: f32 = 1 / area;
  const least: f32 = -1e-4, most: f32 = 1 - least;
  // Shares of b and c, and how they change along a row.
  const bx1 = (cy - ay) * inverse, cx1 = (ay - by) * inverse, by1 = (ax - cx) * inverse, cy1 = (bx - ax) * inverse;
  if (s1 - s0 < 3) {
    for (let t = t0; t <= t1; t++) {
      for (let s = s0; s <= s1; s++) {
        const x = <f32>s - ax, y = <f32>t - ay;
        const b = x * bx1 + y * by1, c = x * cx1 + y * cy1;
        if (b < least || c < least || b + c > most) continue;
        put(s, t, ua + b * (ub - ua) + c * (uc - ua), va + b * (vb - va) + c * (vc - va), ra + b * (rb - ra) + c * (rc - ra));
      }
    }
    return;
  }
  // Long ones: where a row enters and leaves.
  for (let t = t0; t <= t1; t++) {
    const y = <f32>t - ay;
    from = <f32>s0 - ax; to = <f32>s1 - ax;
    limit(bx1, y * by1 - least);
    limit(cx1, y * cy1 - least);
    limit(-bx1 - cx1, most - y * (by1 + cy1));
    const end = min(<i32>floor(to + ax), s1);
    for (let s = max(<i32>ceil(from + ax), s0); s <= end; s++) {
      const x = <f32>s - ax;
      const b = x * bx1 + y * by1, c = x * cx1 + y * cy1;
      put(s, t, ua + b * (ub - ua) + c * (uc - ua), va + b * (vb - va) + c * (vc - va), ra + b * (rb - ra) + c * (rc - ra));
    }
  }
}

let from: f32, to: f32;
/** Leaves of a row where slope x + base is not below 0. */
// @ts-ignore: decorator
@inline
function limit(slope: f32, base: f32): void {
  if (slope > 1e-9) from = max(from, -base / slope);
  else if (slope < -1e-9) to = min(to, -base / slope);
  else if (base < 0) to = from - 1;
}
