import { z } from 'zod';
import { LRUCache } from 'lru-cache';
import type { KindOf } from '../../kind';
import { toRaster, type Place, type Point } from '../../raster/geometry';
import type { DepthMap, Mask, Picture8 } from '../../raster/picture';
import { WAYS_TO_COMBINE } from '../combine';

/** How an ingredient joins what was chosen before it. */
export const way = z.enum(WAYS_TO_COMBINE);
/** A coordinate, full-size px. */
export const place = z.number().min(-1e5).max(1e5);
export const point = z.strictObject({ x: place, y: place });
/** A stroke of a round brush. */
export const strokePath = { size: z.number().min(1).max(1000), points: z.array(point).min(1).max(5000) };

/** A place on a canvas that has grown. */
export function moved<P extends Point>(at: P, dx: number, dy: number): P {
  return { ...at, x: at.x + dx, y: at.y + dy };
}

/** So many solved ingredients are kept, so that a changed tolerance or one more stroke is quick. */
const KEPT = 6;

/** What an ingredient is made on: a picture, its depth, and where both lie. Keeps what was costly to find out of them. */
export class IngredientGround {
  constructor(
    readonly picture: Picture8,
    readonly place: Place,
    readonly depth: DepthMap,
    private readonly kept = new LRUCache<string, object>({ max: KEPT }),
  ) {}

  /** The same ground with another depth map; what is kept stays. */
  withDepth(depth: DepthMap): IngredientGround {
    return new IngredientGround(this.picture, this.place, depth, this.kept);
  }

  /** A full-size place in raster px. */
  here = (at: Point): Point => toRaster(at, this.place);

  /** Makes something once and keeps it for the next time it is asked for by the same name. */
  keep<T extends object>(name: string, make: () => T): T {
    const known = this.kept.get(name) as T | undefined;
    if (known) return known;
    const made = make();
    this.kept.set(name, made);
    return made;
  }
}

/** A kind of ingredient: makes a mask over the whole ground. */
export type IngredientKind<Schema extends z.ZodType> = KindOf<Schema, IngredientGround, Mask>;
