// Patches of 8 x 8 px of one plane looked for in another (core/flow/patchSearch says how). Planes are floats, rows
// side by side; the patch
// in work lies at `patch`: its values less their mean, its slopes across and down, and what is seen where it is held;
// 64 floats each.
const PATCH: i32 = 8;
const STRIDE: i32 = 4;
const AREA: f32 = 64;
const STEPS: i32 = 12;
/** A step that is shorter ends the search, px. */
const SHORT: f32 = 0.05;
/** What has left its beginning by more has lost itself, px. */
const LOST: f32 = 8;
/** Added to both slopes, so that patches without any have an answer. */
const FLAT: f32 = 0.064;
/** A patch that leaves the frame by a px is as far off as one whose every px is off by a grey level. */
const OUTSIDE: f32 = 64;

/** How the misfit changes with a step across and down: the sums of what is off times the slopes. */
let pullX: f32 = 0, pullY: f32 = 0;

// @ts-ignore: decorator
@inline
function across4(v: v128): f32 {
  return f32x4.extract_lane(v, 0) + f32x4.extract_lane(v, 1) + f32x4.extract_lane(v, 2) + f32x4.extract_lane(v, 3);
}

/** Takes a patch in work. */
function take(from: usize, slopeX: usize, slopeY: usize, width: i32, left: i32, top: i32, patch: usize): void {
  let sum = f32x4.splat(0);
  for (let v = 0; v < PATCH; v++) {
    const at = (<usize>((top + v) * width + left)) << 2, to = patch + (<usize>v << 5);
    const a = v128.load(from + at), b = v128.load(from + at + 16);
    v128.store(to, a);
    v128.store(to + 16, b);
    sum = f32x4.add(sum, f32x4.add(a, b));
    v128.store(to + 256, v128.load(slopeX + at));
    v128.store(to + 272, v128.load(slopeX + at + 16));
    v128.store(to + 512, v128.load(slopeY + at));
    v128.store(to + 528, v128.load(slopeY + at + 16));
  }
  const mean = f32x4.splat(across4(sum) / AREA);
  for (let n: usize = 0; n < 256; n += 16) v128.store(patch + n, f32x4.sub(v128.load(patch + n), mean));
}

/** How far the patch in work is from what lies at a place, both less their means: the sum of squares. */
function misfit(to: usize, width: i32, height: i32, left: f32, top: f32, patch: usize): f32 {
  const x = max<f32>(0, min<f32>(<f32>(width - PATCH - 1), left)), y = max<f32>(0, min<f32>(<f32>(height - PATCH - 1), top));
  // Beyond the frame everything would look like its border, however far away: what leaves it pays for the way.
  const beyond = abs<f32>(left - x) + abs<f32>(top - y);
  const x0 = <i32>x, y0 = <i32>y;
  const fx = x - <f32>x0, fy = y - <f32>y0;
  // The whole patch has the same share of a px.
  const a = f32x4.splat((1 - fx) * (1 - fy)), b = f32x4.splat(fx * (1 - fy));
  const c = f32x4.splat((1 - fx) * fy), d = f32x4.splat(fx * fy);
  const long = <usize>width << 2, seen = patch + 768;
  let at = to + ((<usize>(y0 * width + x0)) << 2), sum = f32x4.splat(0);
  for (let v: usize = 0; v < 256; v += 32, at += long) {
    const p = f32x4.add(
      f32x4.add(f32x4.mul(a, v128.load(at)), f32x4.mul(b, v128.load(at + 4))),
      f32x4.add(f32x4.mul(c, v128.load(at + long)), f32x4.mul(d, v128.load(at + long + 4))),
    );
    const q = f32x4.add(
      f32x4.add(f32x4.mul(a, v128.load(at + 16)), f32x4.mul(b, v128.load(at + 20))),
      f32x4.add(f32x4.mul(c, v128.load(at + long + 16)), f32x4.mul(d, v128.load(at + long + 20))),
    );
    v128.store(seen + v, p);
    v128.store(seen + v + 16, q);
    sum = f32x4.add(sum, f32x4.add(p, q));
  }
  const mean = f32x4.splat(across4(sum) / AREA);
  let off = f32x4.splat(0), rx = f32x4.splat(0), ry = f32x4.splat(0);
  for (let n: usize = 0; n < 256; n += 16) {
    const r = f32x4.sub(f32x4.sub(v128.load(seen + n), mean), v128.load(patch + n));
    off = f32x4.add(off, f32x4.mul(r, r));
    rx = f32x4.add(rx, f32x4.mul(r, v128.load(patch + n + 256)));
    ry = f32x4.add(ry, f32x4.mul(r, v128.load(patch + n + 512)));
  }
  pullX = across4(rx);
  pullY = across4(ry);
  return across4(off) + OUTSIDE * beyond * beyond;
}

/** What was found for the patch in work. */
let foundX: f32 = 0, foundY: f32 = 0, foundOff: f32 = 0;

/** Steps from a place towards where the patch in work fits, while it fits better. */
function improve(to: usize, width: i32, height: i32, left: f32, top: f32, bx: f32, by: f32, patch: usize): void {
  let xx4 = f32x4.splat(0), xy4 = xx4, yy4 = xx4;
  for (let n: usize = 256; n < 512; n += 16) {
    const gx = v128.load(patch + n), gy = v128.load(patch + n + 256);
    xx4 = f32x4.add(xx4, f32x4.mul(gx, gx));
    xy4 = f32x4.add(xy4, f32x4.mul(gx, gy));
    yy4 = f32x4.add(yy4, f32x4.mul(gy, gy));
  }
  const xx = across4(xx4) + FLAT, xy = across4(xy4), yy = across4(yy4) + FLAT;
  const det = xx * yy - xy * xy;
  let dx = bx, dy = by;
  foundX = bx;
  foundY = by;
  foundOff = Infinity;
  for (let step = 0; step <= STEPS; step++) {
    const off = misfit(to, width, height, left + dx, top + dy, patch);
    if (off < foundOff) {
      foundOff = off;
      foundX = dx;
      foundY = dy;
    }
    const sx = (yy * pullX - xy * pullY) / det, sy = (xx * pullY - xy * pullX) / det;
    dx -= sx;
    dy -= sy;
    if (abs<f32>(dx - bx) > LOST || abs<f32>(dy - by) > LOST || sx * sx + sy * sy < SHORT * SHORT) return;
  }
}

/**
 * Looks for every patch on the grid, twice over it: from where it begins and from what was found left and above, then
 * from what
 * was found right and below. found: two floats a patch, across and down, that hold where each begins; off: a float a
 * patch.
 */
export function findFlowPatches(
  from: usize, to: usize, slopeX: usize, slopeY: usize, width: i32, height: i32,
  across: i32, down: i32, found: usize, off: usize, patch: usize,
): void {
  const many = across * down;
  for (let n = 0; n < many; n++) store<f32>(off + (<usize>n << 2), Infinity);
  for (let way = 1; way >= -1; way -= 2)
    for (let n = 0; n < many; n++) {
      const k = way > 0 ? n : many - 1 - n;
      const u = k % across, v = k / across, at = found + (<usize>k << 3);
      const left = u * STRIDE, top = v * STRIDE;
      take(from, slopeX, slopeY, width, left, top, patch);
      const hereX = load<f32>(at), hereY = load<f32>(at, 4);
      let bx = hereX, by = hereY;
      let least = misfit(to, width, height, <f32>left + bx, <f32>top + by, patch);
      let other = false;
      for (let side = 0; side < 2; side++) {
        const has = side === 0 ? u - way >= 0 && u - way < across : v - way >= 0 && v - way < down;
        if (!has) continue;
        const beside = found + ((<usize>(k - (side === 0 ? way : way * across))) << 3);
        const x = load<f32>(beside), y = load<f32>(beside, 4);
        const value = misfit(to, width, height, <f32>left + x, <f32>top + y, patch);
        if (value >= least) continue;
        least = value;
        bx = x;
        by = y;
        other = true;
      }
      if (way < 0 && !other) continue;
      improve(to, width, height, <f32>left, <f32>top, bx, by, patch);
      if (foundOff >= load<f32>(off + (<usize>k << 2))) continue;
      store<f32>(off + (<usize>k << 2), foundOff);
      store<f32>(at, foundX);
      store<f32>(at, foundY, 4);
    }
}

/**
 * Spreads what was found over the pixels: at each the mean of the patches over it, each by one over how far its
 * colour is off there, at least
 * 1. sums: three planes of floats, all 0; after it the first two are the field, where patches lie.
 */
export function spreadFlowPatches(
  from: usize, to: usize, width: i32, height: i32, across: i32, down: i32, found: usize, sums: usize,
): void {
  const long = <usize>width << 2, plane = long * height, one = f32x4.splat(1);
  for (let v = 0; v < down; v++)
    for (let u = 0; u < across; u++) {
      const at = found + (<usize>(v * across + u) << 3);
      const dx = load<f32>(at), dy = load<f32>(at, 4);
      const x = max<f32>(0, min<f32>(<f32>(width - PATCH - 1), <f32>(u * STRIDE) + dx));
      const y = max<f32>(0, min<f32>(<f32>(height - PATCH - 1), <f32>(v * STRIDE) + dy));
      const x0 = <i32>x, y0 = <i32>y;
      const fx = x - <f32>x0, fy = y - <f32>y0;
      const a = f32x4.splat((1 - fx) * (1 - fy)), b = f32x4.splat(fx * (1 - fy));
      const c = f32x4.splat((1 - fx) * fy), d = f32x4.splat(fx * fy);
      const byX = f32x4.splat(dx), byY = f32x4.splat(dy);
      let there = to + ((<usize>(y0 * width + x0)) << 2), here = (<usize>(v * STRIDE * width + u * STRIDE)) << 2;
      for (let row = 0; row < PATCH; row++, there += long, here += long)
        for (let n: usize = 0; n < 32; n += 16) {
          const seen = f32x4.add(
            f32x4.add(f32x4.mul(a, v128.load(there + n)), f32x4.mul(b, v128.load(there + n + 4))),
            f32x4.add(f32x4.mul(c, v128.load(there + long + n)), f32x4.mul(d, v128.load(there + long + n + 4))),
          );
          const weight = f32x4.div(one, f32x4.max(one, f32x4.abs(f32x4.sub(seen, v128.load(from + here + n)))));
          const px = sums + here + n;
          v128.store(px, f32x4.add(v128.load(px), f32x4.mul(weight, byX)));
          v128.store(px + plane, f32x4.add(v128.load(px + plane), f32x4.mul(weight, byY)));
          v128.store(px + 2 * plane, f32x4.add(v128.load(px + 2 * plane), weight));
        }
    }
  for (let n: usize = 0; n + 12 < plane; n += 16) {
    const weight = v128.load(sums + 2 * plane + n);
    v128.store(sums + n, f32x4.div(v128.load(sums + n), weight));
    v128.store(sums + plane + n, f32x4.div(v128.load(sums + plane + n), weight));
  }
  // What is left of a plane whose px are no multiple of four.
  for (let n = plane & ~(<usize>15); n < plane; n += 4) {
    const weight = load<f32>(sums + 2 * plane + n);
    store<f32>(sums + n, load<f32>(sums + n) / weight);
    store<f32>(sums + plane + n, load<f32>(sums + plane + n) / weight);
  }
}
