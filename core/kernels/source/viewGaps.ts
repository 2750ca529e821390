// The gaps of a row of a view (AssemblyScript, compiled to WASM SIMD).

import { HOLE, write } from './viewRow';

/**
 * Marks the holes of a row in `mask` (255 = revealed), lists them in `runs` (first column and the one after the last, i32) and
 * gives each the coordinate of its ground, so that never a near colour is drawn out; the membrane starts from there.
 * The ground lies across the tear that opened the gap: what is seen at the gap's other end, unless that is a nearer thing (by
 * more than `jump`) that has come before it.
 * line: depth of the row's columns; sign: -1 where black is near. Returns the number of runs.
 */
export function fillRow(
  shift: usize, line: usize, map: usize, src: usize, out: usize, mask: usize, runs: usize, width: i32,
  tear: i32, jump: i32, sign: i32, direction: i32,
): i32 {
  let count = 0;
  memory.fill(mask, 0, width);
  const hole = i32x4.splat(HOLE);
  let t = 0;
  while (t < width) {
    // Most of a row is known: skip sixteen at a time (what is read past the row's end belongs to the scratch behind it).
    const m = map + (<usize>t << 2);
    if (!v128.any_true(v128.or(
      v128.or(i32x4.eq(v128.load(m), hole), i32x4.eq(v128.load(m + 16), hole)),
      v128.or(i32x4.eq(v128.load(m + 32), hole), i32x4.eq(v128.load(m + 48), hole))))) { t += 16; continue; }
    if (!v128.any_true(i32x4.eq(v128.load(m), hole))) { t += 4; continue; }
    if (load<i32>(m) != HOLE) { t++; continue; }
    const from = t;
    while (t < width && load<i32>(map + (<usize>t << 2)) == HOLE) t++;
    memory.fill(mask + from, 255, t - from);
    store<i32>(runs + (<usize>count << 3), from);
    store<i32>(runs + (<usize>count << 3) + 4, t);
    count++;
    if (from == 0 && t == width) { for (let i = 0; i < width; i++) write(map, src, out, i, i << 8); continue; }
    const ground = direction > 0
      ? groundOf(shift, line, map, from - 1, t, width, tear, jump, sign, 1)
      : groundOf(shift, line, map, t, from - 1, width, tear, jump, sign, -1);
    for (let i = from; i < t; i++) write(map, src, out, i, ground);
  }
  return count;
}

/**
 * Where a gap's ground comes from. front: the column before the gap on the walk, where the nearer thing ends that left it open;
 * back: the one after it. Outside 0 to width - 1 there is none.
 */
function groundOf(
  shift: usize, line: usize, map: usize, front: i32, back: i32, width: i32, tear: i32, jump: i32, sign: i32, direction: i32,
): i32 {
  const hasFront = front >= 0 && front < width, hasBack = back >= 0 && back < width;
  const seen = hasBack ? load<i32>(map + (<usize>back << 2)) : 0;
  if (!hasFront) return seen;
  const u = load<i32>(map + (<usize>front << 2));
  const last = direction > 0 ? (u + 255) >> 8 : u >> 8;
  const across = last + direction;
  if (across < 0 || across >= width ||
    abs(load<i32>(shift + (<usize>across << 2)) - load<i32>(shift + (<usize>last << 2))) <= tear) {
    if (!hasBack) return u;
    return direction * (load<i32>(shift + (<usize>(seen >> 8) << 2)) - load<i32>(shift + (<usize>(u >> 8) << 2))) > 0 ? seen : u;
  }
  const ground = sign * <i32>load<u16>(line + (<usize>across << 1));
  if (!hasBack) return across << 8;
  const there = sign * <i32>load<u16>(line + (<usize>(min(width - 1, (seen + 128) >> 8)) << 1));
  return there - ground <= jump ? seen : across << 8;
}
