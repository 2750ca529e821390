import { z } from 'zod';
import { CoreError } from '../error';
import { requireSameSize, type DepthMap, type Mask, type Picture8 } from '../raster/picture';
import { closedFormMatte } from './closedForm';
import { combine, WAYS_TO_COMBINE } from './combine';
import { depthSlice } from './depthSlice';
import { feather, invertMatte, offsetEdge, smoothEdge } from './edge';
import { floodAt, floodTolerance } from './flood';
import { drawOutline } from './outline';
import { RegionPaint, STROKE_IN, STROKE_OUT } from './regionPaint';
import { dropSpecks, fillHoles } from './specks';
import { trimapOf } from './trimap';

const place = z.number().min(-1e5).max(1e5);
const point = z.strictObject({ x: place, y: place });
const way = z.enum(WAYS_TO_COMBINE);

/** One ingredient of a choice, in full-size px; each joins what the ones before it have chosen. */
export const ingredientSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('outline'), way, points: z.array(point).min(3).max(5000) }),
  z.strictObject({ kind: z.literal('flood'), way, x: place, y: place, tolerance: z.number().int().min(0).max(255), reach: z.number().int().min(0).max(50), connected: z.boolean() }),
  z.strictObject({ kind: z.literal('slice'), way, far: z.number().min(0).max(1), near: z.number().min(0).max(1) }),
  z.strictObject({
    kind: z.literal('region'), way,
    strokes: z.array(z.strictObject({ side: z.enum(['in', 'out']), size: z.number().min(1).max(1000), points: z.array(point).min(1).max(5000) })).min(2).max(500),
  }),
]);
export type Ingredient = z.infer<typeof ingredientSchema>;

/** What is done to the edge of a choice, in this order; px at full size. */
export const edgeSchema = z.strictObject({
  holesPx: z.number().min(0).max(1e6), specksPx: z.number().min(0).max(1e6), smoothPx: z.number().min(0).max(100), offsetPx: z.number().min(-200).max(200),
  /** Width of the band around the edge in which coverage is solved from the colours; 0: not at all. */
  solvePx: z.number().min(0).max(300), featherPx: z.number().min(0).max(100), invert: z.boolean(),
});
export type EdgeSettings = z.infer<typeof edgeSchema>;
export const PLAIN_EDGE: EdgeSettings = { holesPx: 0, specksPx: 0, smoothPx: 0, offsetPx: 0, solvePx: 0, featherPx: 0, invert: false };

export const choiceSchema = z.strictObject({ ingredients: z.array(ingredientSchema).min(1).max(200), edge: edgeSchema });
export type Choice = z.infer<typeof choiceSchema>;

/** Where a picture lies in the whole one: full-size (x, y) is at ((x - left) * scale, (y - top) * scale). */
export interface ChoicePlace { readonly left: number; readonly top: number; readonly scale: number }

/** Keeps what was solved for a picture, so that a changed tolerance or one more stroke is quick. */
export class ChoiceMaker {
  private region: RegionPaint | undefined;
  private readonly floods = new Map<string, Mask>();

  constructor(private readonly picture: Picture8, private readonly place: ChoicePlace = { left: 0, top: 0, scale: 1 }) {}

  /**
   * The matte of a choice.
   * @throws CoreError `nothing-chosen` where nothing is left of it, and what its ingredients throw
   */
  make(choice: Choice, depth: DepthMap): Mask {
    requireSameSize('The depth map', depth, 'the picture', this.picture);
    const { width, height } = this.picture;
    let matte: Mask = { width, height, data: new Uint8Array(width * height) };
    for (const one of choice.ingredients) matte = combine(matte, this.ingredient(one, depth), one.way);
    matte = this.edge(matte, choice.edge);
    if (!matte.data.some((v) => v > 0)) throw new CoreError('nothing-chosen', 'Nothing is chosen: what was added has been taken away again, or lies outside the picture.');
    return matte;
  }

  private ingredient(one: Ingredient, depth: DepthMap): Mask {
    const { left, top, scale } = this.place, { width, height } = this.picture;
    const here = (p: { x: number; y: number }): { x: number; y: number } => ({ x: (p.x - left) * scale, y: (p.y - top) * scale });
    switch (one.kind) {
      case 'outline': return drawOutline(width, height, one.points.map(here));
      case 'slice': return depthSlice(depth, one.far, one.near);
      case 'flood': {
        const seed = here(one), reach = Math.round(one.reach * scale);
        const key = `${seed.x},${seed.y},${reach},${one.connected}`;
        let needed = this.floods.get(key);
        if (!needed) {
          needed = floodTolerance(this.picture, { x: Math.min(width - 1, seed.x), y: Math.min(height - 1, seed.y), reach, connected: one.connected });
          if (this.floods.size > 3) this.floods.clear();
          this.floods.set(key, needed);
        }
        return floodAt(needed, one.tolerance);
      }
      case 'region': {
        const marks = new Uint8Array(width * height);
        for (const { side, size, points } of one.strokes) drawStroke(marks, width, height, points.map(here), (size / 2) * scale, side === 'in' ? STROKE_IN : STROKE_OUT);
        this.region ??= new RegionPaint(this.picture);
        return this.region.solve({ width, height, data: marks });
      }
    }
  }

  private edge(matte: Mask, edge: EdgeSettings): Mask {
    const { scale } = this.place;
    let out = matte;
    if (edge.holesPx > 0) out = fillHoles(out, edge.holesPx * scale * scale);
    if (edge.specksPx > 0) out = dropSpecks(out, edge.specksPx * scale * scale);
    if (edge.smoothPx * scale >= 0.3) out = smoothEdge(out, edge.smoothPx * scale);
    if (edge.offsetPx !== 0) out = offsetEdge(out, edge.offsetPx * scale);
    if (edge.solvePx * scale >= 1) out = solved(this.picture, trimapOf(out, edge.solvePx * scale));
    if (edge.featherPx * scale >= 0.3) out = feather(out, edge.featherPx * scale);
    return edge.invert ? invertMatte(out) : out;
  }
}

/** The soft matte of a trimap. */
function solved(picture: Picture8, trimap: Mask): Mask {
  const alpha = closedFormMatte(picture, trimap);
  return { ...trimap, data: Uint8Array.from(alpha, (a) => Math.round(a * 255)) };
}

/** Marks every pixel no farther than `radius` from the path. */
function drawStroke(marks: Uint8Array, width: number, height: number, points: readonly { x: number; y: number }[], radius: number, value: number): void {
  const r = Math.max(0.6, radius);
  points.forEach((b, n) => {
    const a = points[Math.max(0, n - 1)], dx = b.x - a.x, dy = b.y - a.y, length2 = dx * dx + dy * dy;
    for (let y = Math.max(0, Math.floor(Math.min(a.y, b.y) - r)); y <= Math.min(height - 1, Math.max(a.y, b.y) + r); y++) {
      for (let x = Math.max(0, Math.floor(Math.min(a.x, b.x) - r)); x <= Math.min(width - 1, Math.max(a.x, b.x) + r); x++) {
        const px = x + 0.5 - a.x, py = y + 0.5 - a.y;
        const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
        if ((px - t * dx) ** 2 + (py - t * dy) ** 2 <= r * r) marks[y * width + x] = value;
      }
    }
  });
}
