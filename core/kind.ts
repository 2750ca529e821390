import { z } from 'zod';
import type { Rect } from './raster/geometry';

/**
 * One kind of thing that people do to a raster and that travels as data between page, server and history: an ingredient of a
 * choice, an edit of a depth map, an edit of a fill. A new kind is one file and one line in its folder's index.
 */
export interface Kind<Value, Target, Made, Schema = z.ZodType<Value>> {
  /** The word by which a value says which kind it is. */
  readonly kind: string;
  readonly schema: Schema;
  /** What it can touch or needs to look at, clipped to a raster of this full size; undefined where it misses that. */
  bounds(value: Value, size: Size): Rect | undefined;
  /** Does it. What it makes, and whether it works in place, its family says. */
  apply(target: Target, value: Value): Made;
  /** What it is called in lists and in the history. */
  label(value: Value): string;
  /** The same on a canvas that has grown: every place moved by so many full-size px. */
  shift(value: Value, dx: number, dy: number): Value;
}

/** Width and height, px. */
export interface Size {
  readonly width: number;
  readonly height: number;
}

/** A kind whose values are what its schema lets through. */
export type KindOf<Schema extends z.ZodType, Target, Made> = Kind<z.infer<Schema>, Target, Made, Schema>;

interface AnyKind {
  readonly kind: string;
  readonly schema: z.ZodType;
}
type SchemasOf<Kinds extends readonly AnyKind[]> = { [N in keyof Kinds]: Kinds[N]['schema'] };

/** The schema of a family: what any of its kinds lets through. */
export function schemaOf<const Kinds extends readonly AnyKind[]>(
  kinds: Kinds,
): z.ZodType<z.infer<Kinds[number]['schema']>> {
  const schemas = kinds.map((kind) => kind.schema) as unknown as SchemasOf<Kinds>;
  return z.discriminatedUnion('kind', schemas as never);
}

/** The kind that a value belongs to. */
export function kindOf<Value extends { readonly kind: string }, Target, Made>(
  kinds: readonly AnyKind[],
  value: Value,
): Kind<Value, Target, Made> {
  return kinds.find(({ kind }) => kind === value.kind) as unknown as Kind<Value, Target, Made>;
}
