import { z } from 'zod';
import { CoreError } from '../error';
import { requireSameSize, type DepthMap, type Mask, type Picture8 } from '../raster/picture';
import { closedFormMatte } from './closedForm';
import { combine, WAYS_TO_COMBINE } from './combine';
import { flattenCurve } from './curve';
import { depthSlice } from './depthSlice';
import { feather, invertMatte, offsetEdge, smoothEdge } from './edge';
import { floodAt, floodTolerance } from './flood';
import { growToSimilar } from './grow';
import { drawOutline, drawRings } from './outline';
import { RegionPaint, STROKE_IN, STROKE_OUT } from './regionPaint';
import { dropSpecks, fillHoles } from './specks';
import { drawStroke } from './stroke';
import { trimapOf, UNSURE } from './trimap';

const place = z.number().min(-1e5).max(1e5);
const point = z.strictObject({ x: place, y: place });
const way = z.enum(WAYS_TO_COMBINE);
const path = { size: z.number().min(1).max(1000), points: z.array(point).min(1).max(5000) };

/** One ingredient of a choice, in full-size px; each joins what the ones before it have chosen. */
export const ingredientSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('outline'), way, points: z.array(point).min(3).max(5000) }),
  z.strictObject({
    kind: z.literal('curve'),
    way,
    nodes: z
      .array(z.strictObject({ x: place, y: place, inX: place, inY: place, outX: place, outY: place }))
      .min(2)
      .max(500),
  }),
  /** The way that an edge trace found, closed. */
  z.strictObject({ kind: z.literal('trace'), way, points: z.array(point).min(3).max(20000) }),
  /** Pieces that were proposed and taken, as rings (even-odd). */
  z.strictObject({ kind: z.literal('pieces'), way, rings: z.array(z.array(point).min(3).max(20000)).min(1).max(3000) }),
  z.strictObject({
    kind: z.literal('flood'),
    way,
    x: place,
    y: place,
    tolerance: z.number().int().min(0).max(255),
    reach: z.number().int().min(0).max(50),
    connected: z.boolean(),
  }),
  z.strictObject({ kind: z.literal('slice'), way, far: z.number().min(0).max(1), near: z.number().min(0).max(1) }),
  z.strictObject({
    kind: z.literal('region'),
    way,
    strokes: z
      .array(z.strictObject({ side: z.enum(['in', 'out']), ...path }))
      .min(2)
      .max(500),
  }),
]);
export type Ingredient = z.infer<typeof ingredientSchema>;

/** What is done to the edge of a choice, in this order; px at full size. */
export const edgeSchema = z.strictObject({
  /** Grown into what looks alike: differences up to the tolerance, and so far; 0 px: not at all. */
  growTolerance: z.number().min(0).max(255),
  growPx: z.number().min(0).max(5000),
  holesPx: z.number().min(0).max(1e6),
  specksPx: z.number().min(0).max(1e6),
  smoothPx: z.number().min(0).max(100),
  offsetPx: z.number().min(-200).max(200),
  /** Width of the band around the edge in which coverage is solved from the colours; 0: not at all. */
  solvePx: z.number().min(0).max(300),
  /** Strokes that widen the band: over hair and leaves. */
  unsure: z.array(z.strictObject(path)).max(300),
  featherPx: z.number().min(0).max(100),
  invert: z.boolean(),
});
export type EdgeSettings = z.infer<typeof edgeSchema>;
export const PLAIN_EDGE: EdgeSettings = {
  growTolerance: 16,
  growPx: 0,
  holesPx: 0,
  specksPx: 0,
  smoothPx: 0,
  offsetPx: 0,
  solvePx: 0,
  unsure: [],
  featherPx: 0,
  invert: false,
};

export const choiceSchema = z.strictObject({
  ingredients: z.array(ingredientSchema).min(1).max(200),
  edge: edgeSchema,
});
export type Choice = z.infer<typeof choiceSchema>;

/** Where a picture lies in the whole one: full-size (x, y) is at ((x - left) * scale, (y - top) * scale). */
export interface ChoicePlace {
  readonly left: number;
  readonly top: number;
  readonly scale: number;
}

/** Keeps what was solved for a picture, so that a changed tolerance or one more stroke is quick. */
export class ChoiceMaker {
  private region: RegionPaint | undefined;
  private readonly floods = new Map<string, Mask>();

  constructor(
    private readonly picture: Picture8,
    private readonly place: ChoicePlace = { left: 0, top: 0, scale: 1 },
  ) {}

  /**
   * The matte of a choice.
   * @param onProgress share of the solving that is done, 0 to 1; may throw to end the work
   * @throws CoreError `nothing-chosen` where nothing is left of it, and what its ingredients throw
   */
  make(choice: Choice, depth: DepthMap, onProgress?: (share: number) => void): Mask {
    const { matte, trimap } = this.begin(choice, depth);
    return this.finish(trimap ? solved(this.picture, trimap, onProgress) : matte, choice.edge);
  }

  /**
   * A choice up to the point where its coverage is solved: the hard matte, and the trimap where there is a band to solve in.
   * @throws CoreError `nothing-chosen`, and what its ingredients throw
   */
  begin(choice: Choice, depth: DepthMap): { readonly matte: Mask; readonly trimap: Mask | undefined } {
    requireSameSize('The depth map', depth, 'the picture', this.picture);
    const { width, height } = this.picture;
    const { scale } = this.place;
    const { edge } = choice;
    let matte: Mask = { width, height, data: new Uint8Array(width * height) };
    for (const one of choice.ingredients) matte = combine(matte, this.ingredient(one, depth), one.way);
    if (edge.growPx > 0) matte = growToSimilar(this.picture, matte, edge.growTolerance, edge.growPx * scale);
    if (edge.holesPx > 0) matte = fillHoles(matte, edge.holesPx * scale * scale);
    if (edge.specksPx > 0) matte = dropSpecks(matte, edge.specksPx * scale * scale);
    if (edge.smoothPx * scale >= 0.3) matte = smoothEdge(matte, edge.smoothPx * scale);
    if (edge.offsetPx !== 0) matte = offsetEdge(matte, edge.offsetPx * scale);
    if (!matte.data.some((v) => v > 0))
      throw new CoreError(
        'nothing-chosen',
        'Nothing is chosen: what was added has been taken away again, or lies outside the picture.',
      );
    return { matte, trimap: this.trimap(matte, edge) };
  }

  /** What is done to an edge after its coverage was solved. */
  finish(matte: Mask, edge: EdgeSettings): Mask {
    const out = edge.featherPx * this.place.scale >= 0.3 ? feather(matte, edge.featherPx * this.place.scale) : matte;
    return edge.invert ? invertMatte(out) : out;
  }

  /** The band: of the asked width along the edge, and where strokes say so. Undefined where nothing is to be solved. */
  private trimap(matte: Mask, edge: EdgeSettings): Mask | undefined {
    const { scale } = this.place;
    const wide = edge.solvePx * scale;
    if (wide < 1 && edge.unsure.length === 0) return undefined;
    const trimap = trimapOf(matte, Math.max(1, wide));
    for (const { size, points } of edge.unsure)
      drawStroke(trimap.data, trimap.width, trimap.height, points.map(this.here), (size / 2) * scale, UNSURE);
    return trimap;
  }

  private readonly here = (p: { readonly x: number; readonly y: number }): { x: number; y: number } => ({
    x: (p.x - this.place.left) * this.place.scale,
    y: (p.y - this.place.top) * this.place.scale,
  });

  private ingredient(one: Ingredient, depth: DepthMap): Mask {
    const { scale } = this.place;
    const { width, height } = this.picture;
    const { here } = this;
    switch (one.kind) {
      case 'outline':
      case 'trace':
        return drawOutline(width, height, one.points.map(here));
      case 'curve':
        return drawOutline(width, height, flattenCurve(one.nodes, scale).map(here));
      case 'pieces':
        return drawRings(
          width,
          height,
          one.rings.map((ring) => ring.map(here)),
        );
      case 'slice':
        return depthSlice(depth, one.far, one.near);
      case 'flood': {
        const seed = here(one);
        const reach = Math.round(one.reach * scale);
        const key = `${seed.x},${seed.y},${reach},${one.connected}`;
        let needed = this.floods.get(key);
        if (!needed) {
          needed = floodTolerance(this.picture, {
            x: Math.min(width - 1, seed.x),
            y: Math.min(height - 1, seed.y),
            reach,
            connected: one.connected,
          });
          if (this.floods.size > 3) this.floods.clear();
          this.floods.set(key, needed);
        }
        return floodAt(needed, one.tolerance);
      }
      case 'region': {
        const marks = new Uint8Array(width * height);
        for (const { side, size, points } of one.strokes)
          drawStroke(
            marks,
            width,
            height,
            points.map(here),
            (size / 2) * scale,
            side === 'in' ? STROKE_IN : STROKE_OUT,
          );
        this.region ??= new RegionPaint(this.picture);
        return this.region.solve({ width, height, data: marks });
      }
    }
  }
}

/** The soft matte of a trimap, by the closed form. */
export function solved(picture: Picture8, trimap: Mask, onProgress?: (share: number) => void): Mask {
  const alpha = closedFormMatte(picture, trimap, { onProgress });
  return { ...trimap, data: Uint8Array.from(alpha, (a) => Math.round(a * 255)) };
}
