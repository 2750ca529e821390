import { z } from 'zod';
import { CoreError } from '../error';
import { toRaster, WHOLE, type Place } from '../raster/geometry';
import { requireSameSize, type DepthMap, type Mask, type Picture8 } from '../raster/picture';
import { closedFormMatte } from './closedForm';
import { combine } from './combine';
import { feather, invertMatte, offsetEdge, smoothEdge } from './edge';
import { growToSimilar } from './grow';
import { IngredientGround, ingredientSchema, makeIngredient, shiftIngredient } from './ingredients';
import { strokePath } from './ingredients/ground';
import { unsureRegion } from './ingredients/region';
import { dropSpecks, fillHoles } from './specks';
import { drawStroke } from './stroke';
import { trimapOf, UNSURE } from './trimap';

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
  unsure: z.array(z.strictObject(strokePath)).max(300),
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

/** Keeps what was solved for a picture, so that a changed tolerance or one more stroke is quick. */
export class ChoiceMaker {
  private ground: IngredientGround | undefined;

  constructor(
    private readonly picture: Picture8,
    private readonly place: Place = WHOLE,
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
    const ground = this.groundOn(depth);
    let matte: Mask = { width, height, data: new Uint8Array(width * height) };
    for (const ingredient of choice.ingredients)
      matte = combine(matte, makeIngredient(ground, ingredient), ingredient.way);
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

  /** Where regions of a choice are unsure, 255; undefined where it has none, or none that can be made. */
  unsure(choice: Choice, depth: DepthMap): Mask | undefined {
    const ground = this.groundOn(depth);
    let found: Mask | undefined;
    for (const ingredient of choice.ingredients)
      if (ingredient.kind === 'region') {
        const mask = unsureRegion(ground, ingredient);
        const before = found?.data;
        found = before ? { ...mask, data: mask.data.map((v, i) => v | before[i]) } : mask;
      }
    return found;
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
      drawStroke(
        trimap,
        points.map((p) => toRaster(p, this.place)),
        { radius: (size / 2) * scale, value: UNSURE },
      );
    return trimap;
  }

  private groundOn(depth: DepthMap): IngredientGround {
    this.ground = this.ground?.withDepth(depth) ?? new IngredientGround(this.picture, this.place, depth);
    return this.ground;
  }
}

/** A choice on a canvas that has grown: every place moved by so many px. */
export function shiftChoice(choice: Choice, dx: number, dy: number): Choice {
  const { edge } = choice;
  const unsure = edge.unsure.map((s) => ({ ...s, points: s.points.map((p) => ({ x: p.x + dx, y: p.y + dy })) }));
  return {
    ingredients: choice.ingredients.map((ingredient) => shiftIngredient(ingredient, dx, dy)),
    edge: { ...edge, unsure },
  };
}

/** The soft matte of a trimap, by the closed form. */
export function solved(picture: Picture8, trimap: Mask, onProgress?: (share: number) => void): Mask {
  const alpha = closedFormMatte(picture, trimap, { onProgress });
  return { ...trimap, data: Uint8Array.from(alpha, (a) => Math.round(a * 255)) };
}
