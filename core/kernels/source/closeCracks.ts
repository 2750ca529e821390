// Cracks in a map of places (mesh.ts), closed before its colours are sampled.

let mapX: usize, mapY: usize, mapZ: usize;

/** Rank of what was closed between neighbours: it is sampled, but closes no other. */
const CLOSED: f32 = -3.4;
/** From this rank on something has been drawn. */
const DRAWN: f32 = -3.3;

/**
 * Closes cracks: where nothing has landed between two neighbours that have, beside or above and below, the place of the farther
 * one is
 * taken. Between joined and torn quads that fold, slivers of a pixel stay open.
 * @param left, right columns that anything may have landed in
 */
export function closeCracks(map: usize, width: i32, rows: i32, left: i32, right: i32): void {
  const count = width * rows;
  mapX = map; mapY = map + (<usize>count << 2); mapZ = map + (<usize>count << 3);
  const none = f32x4.splat(DRAWN);
  for (let y = 0; y < rows; y++) {
    for (let x = left; x < right; x += 4) {
      const at = <usize>(y * width + x) << 2;
      if (!i32x4.bitmask(f32x4.lt(v128.load(mapZ + at), none))) continue;
      const n = min(4, right - x);
      for (let k = 0; k < n; k++) {
        const p = at + (<usize>k << 2);
        if (load<f32>(mapZ + p) >= DRAWN) continue;
        const line = <usize>width << 2;
        let from: usize = 0;
        if (x + k > 0 && x + k < width - 1) from = farther(p - 4, p + 4);
        if (from == 0 && y > 0 && y < rows - 1) from = farther(p - line, p + line);
        if (from == 0) continue;
        store<f32>(mapX + p, load<f32>(mapX + from));
        store<f32>(mapY + p, load<f32>(mapY + from));
        store<f32>(mapZ + p, CLOSED);
      }
    }
  }
}

/** The farther of two places that are both drawn; 0 where one is not. The first pixel of a map is no neighbour that matters. */
// @ts-ignore: decorator
@inline
function farther(a: usize, b: usize): usize {
  const ra = load<f32>(mapZ + a), rb = load<f32>(mapZ + b);
  if (ra < DRAWN || rb < DRAWN) return 0;
  return ra < rb ? a : b;
}
