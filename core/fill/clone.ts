import type { Bounds } from '../raster/bounds';
import type { Picture } from '../raster/picture';
import type { Edit, FillGround, Place } from './fillEdit';
import { sampleAt } from './sample';

/** How strongly a round brush drawn along a path covers each pixel of a window, 0 to 255: full up to its hardness, from there fading to its edge. Raster px. */
export function brushAlong(
  path: readonly Place[],
  radius: number,
  hardness: number,
  strength: number,
  { left, top, right, bottom }: Bounds,
): Uint8Array {
  const w = right - left;
  const mask = new Uint8Array(w * (bottom - top));
  path.forEach((b, n) => {
    const a = path[Math.max(0, n - 1)];
    const dx = b.x - a.x;
    const dy = b.y - a.y;
    const length2 = dx * dx + dy * dy;
    for (
      let y = Math.max(top, Math.floor(Math.min(a.y, b.y) - radius));
      y <= Math.min(bottom - 1, Math.max(a.y, b.y) + radius);
      y++
    ) {
      for (
        let x = Math.max(left, Math.floor(Math.min(a.x, b.x) - radius));
        x <= Math.min(right - 1, Math.max(a.x, b.x) + radius);
        x++
      ) {
        const px = x + 0.5 - a.x;
        const py = y + 0.5 - a.y;
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        const far = Math.hypot(px - t * dx, py - t * dy) / radius;
        if (far > 1) continue;
        const soft = far <= hardness ? 1 : (1 - far) / Math.max(1e-6, 1 - hardness);
        const v = Math.round(255 * strength * soft * soft * (3 - 2 * soft));
        const i = (y - top) * w + x - left;
        if (v > mask[i]) mask[i] = v;
      }
    }
  });
  return mask;
}

/**
 * What a clone stroke copies: the ground as far away as its sources say, seen from the stroke's first point turned, scaled and flipped.
 * @param mask how strongly the stroke covers each pixel of the window
 * @param piece of the window; written
 */
export function drawClone(
  { picture, scale }: FillGround,
  edit: Edit<'clone'>,
  here: (p: Place) => Place,
  window: Bounds,
  mask: Uint8Array,
  piece: Picture,
): void {
  const { left, top, right, bottom } = window;
  const path = edit.points.map(here);
  const [first] = path;
  const w = right - left;
  const colour = new Float32Array(4);
  const angle = (edit.turn * Math.PI) / 180;
  const cos = Math.cos(angle) / edit.scale;
  const sin = Math.sin(angle) / edit.scale;
  const flip = edit.flip ? -1 : 1;
  const copy = (x: number, y: number, dx: number, dy: number): void => {
    const u = flip * (x + 0.5 - first.x);
    const v = y + 0.5 - first.y;
    const i = ((y - top) * w + x - left) * 4;
    sampleAt(picture, first.x + dx + u * cos - v * sin, first.y + dy + u * sin + v * cos, colour);
    for (let c = 0; c < 3; c++) piece.data[i + c] = Math.round(colour[c]);
  };
  if (edit.sources.length === 1 && edit.jitter === 0) {
    // One steady source says the same of a pixel wherever the brush is. Seamless, the piece must be known around the stroke too.
    const [{ dx, dy }] = edit.sources;
    for (let y = top, i = 0; y < bottom; y++)
      for (let x = left; x < right; x++, i++) if (mask[i] || edit.seamless) copy(x, y, dx * scale, dy * scale);
    return;
  }
  // A little more than the brush, so that the rounds of two dabs leave nothing of its edge between them.
  const radius = (edit.size / 2) * scale * 1.04 + (edit.seamless ? 2 : 1);
  const dab = (cx: number, cy: number, n: number): void => {
    const { dx, dy } = edit.sources[n % edit.sources.length];
    const jx = edit.jitter * spreadOf(edit.seed, 2 * n);
    const jy = edit.jitter * spreadOf(edit.seed, 2 * n + 1);
    for (let y = Math.max(top, Math.floor(cy - radius)); y <= Math.min(bottom - 1, cy + radius); y++) {
      for (let x = Math.max(left, Math.floor(cx - radius)); x <= Math.min(right - 1, cx + radius); x++) {
        if ((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2 <= radius * radius)
          copy(x, y, (dx + jx) * scale, (dy + jy) * scale);
      }
    }
  };
  // Each dab covers what the one before it said.
  const step = Math.max(1, radius / 2);
  let n = 0;
  let until = 0;
  path.forEach((b, k) => {
    if (k === 0) {
      dab(b.x, b.y, n++);
      until = step;
      return;
    }
    const a = path[k - 1];
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    for (; until <= length; until += step)
      dab(a.x + ((b.x - a.x) * until) / length, a.y + ((b.y - a.y) * until) / length, n++);
    until -= length;
  });
  const end = path[path.length - 1];
  dab(end.x, end.y, n);
}

/** -1 to 1 by a seed. */
function spreadOf(seed: number, n: number): number {
  let t = Math.imul((seed + n * 0x9e3779b1) ^ 0x85ebca6b, 0xc2b2ae35);
  t ^= t >>> 15;
  t = Math.imul(t, 0x27d4eb2f);
  return ((t ^ (t >>> 13)) >>> 0) / 2147483648 - 1;
}
