import { z } from 'zod';
import { CoreError } from '../error';
import { drawOutline } from '../matte/outline';
import { boundsOf, type Bounds } from '../raster/bounds';
import { isDeep, type Mask, type Picture } from '../raster/picture';
import { feather } from '../matte/edge';
import { sampleAt } from './sample';
import { seamlessClone } from './seamlessClone';

const place = z.number().min(-1e5).max(1e5);
const point = z.strictObject({ x: place, y: place });
const points = z.array(point).min(1).max(5000);
const stroke = { size: z.number().min(1).max(2000), hardness: z.number().min(0).max(1), points };

/** What is done by hand to what was filled in; full-size px. */
export const fillEditSchema = z.discriminatedUnion('kind', [
  /**
   * Copies what lies `dx`, `dy` away, seen from the stroke's first point turned, scaled and flipped; of several sources each dab takes
   * the next. `jitter` moves the source of each dab by up to so many px, by `seed`, against repetition. `seamless` matches the gradients.
   */
  z.strictObject({
    kind: z.literal('clone'), ...stroke, strength: z.number().min(0.01).max(1), sources: z.array(z.strictObject({ dx: place, dy: place })).min(1).max(8),
    scale: z.number().min(0.1).max(10), turn: z.number().min(-360).max(360), flip: z.boolean(), jitter: z.number().min(0).max(500), seed: z.number().int().min(0).max(1e9), seamless: z.boolean(), beyond: z.boolean(),
  }),
  /** Takes back what was filled in. */
  z.strictObject({ kind: z.literal('erase'), ...stroke, strength: z.number().min(0.01).max(1) }),
  /** Copies what an outline holds to where its bounding box's corners (from upper left, clockwise) come to lie. */
  z.strictObject({ kind: z.literal('copy'), points: z.array(point).min(3).max(5000), corners: z.tuple([point, point, point, point]), soft: z.number().min(0).max(100), seamless: z.boolean(), beyond: z.boolean() }),
  /** Continues what crosses the ends of a line, along it, `width` px wide. */
  z.strictObject({ kind: z.literal('line'), from: point, to: point, width: z.number().min(2).max(1000), beyond: z.boolean() }),
]);
export type FillEdit = z.infer<typeof fillEditSchema>;

/** A plate as it stands, hidden part and all, and where it may be filled; full-size (x, y) lies at ((x - left) * scale, (y - top) * scale). */
export interface FillGround { readonly picture: Picture; readonly hidden: Mask; readonly left: number; readonly top: number; readonly scale: number }

/** What an edit writes into: RGBA straight alpha, of the ground's size and bits. */
export interface FillTargets {
  /** Where nearer plates hide the plate. */
  readonly fill: Picture;
  /** Over its own pixels; only edits that may go beyond the hidden part land there. */
  readonly overpaint: Picture;
}

/**
 * Does an edit by hand to what was filled in and painted, in place. What is taken is the ground as it was before. Lands in the hidden
 * part only, unless it may go beyond.
 * @returns the rectangle that was touched
 * @throws CoreError `missed` where nothing lands; `flat`; `too-short`
 */
export function applyFillEdit(ground: FillGround, { fill, overpaint }: FillTargets, edit: FillEdit): Bounds {
  const { picture, hidden } = ground, { width, height } = picture, most = isDeep(picture) ? 65535 : 255;
  const { mask, around } = coverOf(ground, edit), within = around && !(edit.kind === 'erase' || edit.beyond) ? onlyHidden(mask, hidden, around) : around;
  if (!within) throw new CoreError('missed', 'Nothing landed: only what lies behind nearer plates is filled. Paint there, or let the stroke go beyond it.');
  const each = (work: (i: number, cover: number) => void): void => {
    for (let y = within.top; y < within.bottom; y++) for (let i = y * width + within.left; i < y * width + within.right; i++) if (mask[i]) work(i, mask[i] / 255);
  };
  if (edit.kind === 'erase') {
    each((i, a) => { for (const one of [fill, overpaint]) one.data[i * 4 + 3] = Math.round(one.data[i * 4 + 3] * (1 - a)); });
    return within;
  }
  const piece = { width, height, data: picture.data.slice() } as Picture;
  if (edit.kind === 'clone') drawClone(ground, edit, piece);
  else if (edit.kind === 'copy') drawCopy(ground, edit, piece);
  else drawLine(ground, edit, piece);
  if (edit.kind !== 'line' && edit.seamless) {
    const met = { width, height, data: picture.data.slice() } as Picture, inside: Mask = { width, height, data: new Uint8Array(mask.length) };
    each((i, a) => { if (a >= 0.5) inside.data[i] = 255; });
    seamlessClone(met, piece, inside);
    each((i, a) => { if (a >= 0.5) for (let c = i * 4; c < i * 4 + 3; c++) piece.data[c] = met.data[c]; });
  }
  each((i, a) => {
    const to = hidden.data[i] ? fill : overpaint;
    // Over what shows there now, so that soft edges meet it.
    for (let c = i * 4; c < i * 4 + 3; c++) to.data[c] = Math.round(picture.data[c] * (1 - a) + piece.data[c] * a);
    to.data[i * 4 + 3] = most;
  });
  return within;
}

/** Clears what lies outside the hidden part; what is left of the rectangle. */
function onlyHidden(mask: Uint8Array, hidden: Mask, { left, top, right, bottom }: Bounds): Bounds | undefined {
  const { width, height } = hidden;
  for (let y = top; y < bottom; y++) for (let i = y * width + left; i < y * width + right; i++) if (hidden.data[i] === 0) mask[i] = 0;
  return boundsOf(width, height, (i) => mask[i] !== 0);
}

/** How strongly each pixel is changed, 0 to 255, and where any is. */
function coverOf({ picture: { width, height }, left, top, scale }: FillGround, edit: FillEdit): { mask: Uint8Array; around: Bounds | undefined } {
  const here = (p: { x: number; y: number }): { x: number; y: number } => ({ x: (p.x - left) * scale, y: (p.y - top) * scale });
  let mask: Uint8Array;
  if (edit.kind === 'copy') {
    const { map } = perspective(edit, here), outline = drawOutline(width, height, edit.points.map((p) => map(here(p))));
    mask = edit.soft * scale >= 0.3 ? feather(outline, edit.soft * scale).data : outline.data;
  } else {
    mask = new Uint8Array(width * height);
    const radius = ((edit.kind === 'line' ? edit.width : edit.size) / 2) * scale, hardness = edit.kind === 'line' ? 0.6 : edit.hardness, strength = edit.kind === 'line' ? 1 : edit.strength;
    const path = (edit.kind === 'line' ? [edit.from, edit.to] : edit.points).map(here);
    path.forEach((b, n) => { coverSegment(mask, width, height, path[Math.max(0, n - 1)], b, radius, hardness, strength); });
  }
  return { mask, around: boundsOf(width, height, (i) => mask[i] !== 0) };
}

/** A round brush drawn from a to b: full up to its hardness, from there fading to its edge. */
function coverSegment(mask: Uint8Array, width: number, height: number, a: Point, b: Point, radius: number, hardness: number, strength: number): void {
  const dx = b.x - a.x, dy = b.y - a.y, length2 = dx * dx + dy * dy;
  for (let y = Math.max(0, Math.floor(Math.min(a.y, b.y) - radius)); y <= Math.min(height - 1, Math.max(a.y, b.y) + radius); y++) {
    for (let x = Math.max(0, Math.floor(Math.min(a.x, b.x) - radius)); x <= Math.min(width - 1, Math.max(a.x, b.x) + radius); x++) {
      const px = x + 0.5 - a.x, py = y + 0.5 - a.y, t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
      const far = Math.hypot(px - t * dx, py - t * dy) / radius;
      if (far > 1) continue;
      const soft = far <= hardness ? 1 : (1 - far) / Math.max(1e-6, 1 - hardness), v = Math.round(255 * strength * soft * soft * (3 - 2 * soft));
      if (v > mask[y * width + x]) mask[y * width + x] = v;
    }
  }
}

function drawClone({ picture, left, top, scale }: FillGround, edit: Extract<FillEdit, { kind: 'clone' }>, piece: Picture): void {
  const { width, height } = picture, first = { x: (edit.points[0].x - left) * scale, y: (edit.points[0].y - top) * scale };
  const angle = (edit.turn * Math.PI) / 180, cos = Math.cos(angle) / edit.scale, sin = Math.sin(angle) / edit.scale, flip = edit.flip ? -1 : 1;
  // Seamless, the piece must be known just beyond the brush too: there it is set against the picture.
  const radius = (edit.size / 2) * scale + (edit.seamless ? 2 : 0), colour = new Float32Array(4);
  const dab = (cx: number, cy: number, n: number): void => {
    const { dx, dy } = edit.sources[n % edit.sources.length], jx = edit.jitter * scale * spreadOf(edit.seed, 2 * n), jy = edit.jitter * scale * spreadOf(edit.seed, 2 * n + 1);
    for (let y = Math.max(0, Math.floor(cy - radius)); y <= Math.min(height - 1, cy + radius); y++) {
      for (let x = Math.max(0, Math.floor(cx - radius)); x <= Math.min(width - 1, cx + radius); x++) {
        if ((x + 0.5 - cx) ** 2 + (y + 0.5 - cy) ** 2 > radius * radius) continue;
        const u = flip * (x + 0.5 - first.x), v = y + 0.5 - first.y;
        sampleAt(picture, first.x + dx * scale + jx + u * cos - v * sin, first.y + dy * scale + jy + u * sin + v * cos, colour);
        for (let c = 0; c < 3; c++) piece.data[(y * width + x) * 4 + c] = Math.round(colour[c]);
      }
    }
  };
  // With one steady source all dabs say the same; with several or jitter each covers what the one before it said.
  const step = Math.max(1, radius / 2);
  let n = 0, left2 = 0;
  edit.points.forEach((p, k) => {
    const b = { x: (p.x - left) * scale, y: (p.y - top) * scale };
    if (k === 0) { dab(b.x, b.y, n++); left2 = step; return; }
    const q = edit.points[k - 1], a = { x: (q.x - left) * scale, y: (q.y - top) * scale }, length = Math.hypot(b.x - a.x, b.y - a.y);
    for (; left2 <= length; left2 += step) dab(a.x + ((b.x - a.x) * left2) / length, a.y + ((b.y - a.y) * left2) / length, n++);
    left2 -= length;
  });
  const end = edit.points[edit.points.length - 1];
  dab((end.x - left) * scale, (end.y - top) * scale, n);
}

/** -1 to 1 by a seed. */
function spreadOf(seed: number, n: number): number {
  let t = Math.imul((seed + n * 0x9e3779b1) ^ 0x85ebca6b, 0xc2b2ae35);
  t ^= t >>> 15;
  t = Math.imul(t, 0x27d4eb2f);
  return ((t ^ (t >>> 13)) >>> 0) / 2147483648 - 1;
}

function drawCopy(ground: FillGround, edit: Extract<FillEdit, { kind: 'copy' }>, piece: Picture): void {
  const { picture, left, top, scale } = ground, { width, height } = picture;
  const here = (p: { x: number; y: number }): { x: number; y: number } => ({ x: (p.x - left) * scale, y: (p.y - top) * scale });
  const { back } = perspective(edit, here), corners = edit.corners.map(here), reach = edit.soft * scale * 3 + 1, colour = new Float32Array(4);
  const xs = corners.map((p) => p.x), ys = corners.map((p) => p.y);
  for (let y = Math.max(0, Math.floor(Math.min(...ys) - reach)); y <= Math.min(height - 1, Math.max(...ys) + reach); y++) {
    for (let x = Math.max(0, Math.floor(Math.min(...xs) - reach)); x <= Math.min(width - 1, Math.max(...xs) + reach); x++) {
      const from = back({ x: x + 0.5, y: y + 0.5 });
      sampleAt(picture, from.x, from.y, colour);
      for (let c = 0; c < 3; c++) piece.data[(y * width + x) * 4 + c] = Math.round(colour[c]);
    }
  }
}

interface Point { readonly x: number; readonly y: number }

/** The projective map from the outline's bounding box to the four corners, and back. Source: Heckbert, "Fundamentals of texture mapping and image warping", 1989. */
function perspective(edit: Extract<FillEdit, { kind: 'copy' }>, here: (p: Point) => Point): { map(p: Point): Point; back(p: Point): Point } {
  const from = edit.points.map(here), xs = from.map((p) => p.x), ys = from.map((p) => p.y), x0 = Math.min(...xs), y0 = Math.min(...ys), w = Math.max(1e-6, Math.max(...xs) - x0), h = Math.max(1e-6, Math.max(...ys) - y0);
  const [a, b, c, d] = edit.corners.map(here);
  const sx = a.x - b.x + c.x - d.x, sy = a.y - b.y + c.y - d.y, dx1 = b.x - c.x, dy1 = b.y - c.y, dx2 = d.x - c.x, dy2 = d.y - c.y, det = dx1 * dy2 - dx2 * dy1;
  if (Math.abs(det) < 1e-9) throw new CoreError('flat', 'The corners lie on one line, so nothing can be copied there. Draw them apart.');
  const g = (sx * dy2 - dx2 * sy) / det, k = (dx1 * sy - sx * dy1) / det;
  const m = [b.x - a.x + g * b.x, d.x - a.x + k * d.x, a.x, b.y - a.y + g * b.y, d.y - a.y + k * d.y, a.y, g, k, 1];
  const inverse = [m[4] - m[5] * m[7], m[2] * m[7] - m[1], m[1] * m[5] - m[2] * m[4], m[5] * m[6] - m[3], m[0] - m[2] * m[6], m[2] * m[3] - m[0] * m[5], m[3] * m[7] - m[4] * m[6], m[1] * m[6] - m[0] * m[7], m[0] * m[4] - m[1] * m[3]];
  const apply = (t: readonly number[], u: number, v: number): Point => { const z = t[6] * u + t[7] * v + t[8]; return { x: (t[0] * u + t[1] * v + t[2]) / z, y: (t[3] * u + t[4] * v + t[5]) / z }; };
  return {
    map: (p) => apply(m, (p.x - x0) / w, (p.y - y0) / h),
    back: (p) => { const q = apply(inverse, p.x, p.y); return { x: x0 + q.x * w, y: y0 + q.y * h }; },
  };
}

/** What crosses the line's two ends goes on along it: taken mirrored from before each end, and mixed from one end to the other. */
function drawLine({ picture, left, top, scale }: FillGround, edit: Extract<FillEdit, { kind: 'line' }>, piece: Picture): void {
  const { width, height } = picture, a = { x: (edit.from.x - left) * scale, y: (edit.from.y - top) * scale }, b = { x: (edit.to.x - left) * scale, y: (edit.to.y - top) * scale };
  const length = Math.hypot(b.x - a.x, b.y - a.y);
  if (length < 1) throw new CoreError('too-short', 'The line has no length. Draw it from where the edge is known to where it goes on.');
  const ux = (b.x - a.x) / length, uy = (b.y - a.y) / length, half = (edit.width / 2) * scale + 1, one = new Float32Array(4), two = new Float32Array(4);
  // So much before each end is taken and mirrored again and again: the line's own look, without what lies far away.
  const reach = Math.max(4, Math.min(length, edit.width * scale));
  const mirrored = (t: number): number => { const m = t % (2 * reach); return m < reach ? m : 2 * reach - m; };
  for (let y = Math.max(0, Math.floor(Math.min(a.y, b.y) - half)); y <= Math.min(height - 1, Math.max(a.y, b.y) + half); y++) {
    for (let x = Math.max(0, Math.floor(Math.min(a.x, b.x) - half)); x <= Math.min(width - 1, Math.max(a.x, b.x) + half); x++) {
      const px = x + 0.5 - a.x, py = y + 0.5 - a.y, t = px * ux + py * uy, v = -px * uy + py * ux;
      if (t < 0 || t > length || Math.abs(v) > half) continue;
      const before = mirrored(t), after = mirrored(length - t), mix = t / length;
      sampleAt(picture, a.x - before * ux - v * uy, a.y - before * uy + v * ux, one);
      sampleAt(picture, b.x + after * ux - v * uy, b.y + after * uy + v * ux, two);
      for (let c = 0; c < 3; c++) piece.data[(y * width + x) * 4 + c] = Math.round(one[c] * (1 - mix) + two[c] * mix);
    }
  }
}
