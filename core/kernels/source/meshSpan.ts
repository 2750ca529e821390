// The part of a target row that lies within a piece or a triangle (mesh.ts).

export let from: f32, to: f32;

/** Begins with all of a row between two places. */
// @ts-ignore: decorator
@inline
export function beginRow(first: f32, last: f32): void {
  from = first; to = last;
}

/** Leaves of a row where slope x + base is not below 0. */
// @ts-ignore: decorator
@inline
export function limit(slope: f32, base: f32): void {
  if (slope > 1e-9) from = max(from, -base / slope);
  else if (slope < -1e-9) to = min(to, -base / slope);
  else if (base < 0) to = from - 1;
}
