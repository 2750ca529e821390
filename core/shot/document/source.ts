import { z } from 'zod';

/** The picture as it came, or as an extended canvas. */
export const sourceSchema = z.strictObject({
  mediaId: z.uuid(),
  fileName: z.string().max(255),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  bits: z.union([z.literal(8), z.literal(16)]),
  hasAlpha: z.boolean(),
  /** What was said when it came in: what was turned, converted, left out. */
  told: z.string().max(400),
  /** Of footage: which of its frames this is, from 0. */
  moment: z.number().int().min(0).optional(),
});
export type Source = z.infer<typeof sourceSchema>;

/** The part of an extended canvas that is handed over, and the file as it came. */
export const frameSchema = z.strictObject({
  left: z.number().int().min(0),
  top: z.number().int().min(0),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  mediaId: z.uuid(),
});
export type Frame = z.infer<typeof frameSchema>;

/**
 * The size of what is handed over: the frame of an extended canvas, or else all of it. Parallax in other units is of
 * its width.
 */
export function handedSize({ source, frame }: { readonly source: Source; readonly frame: Frame | null }): {
  readonly width: number;
  readonly height: number;
} {
  return frame ?? source;
}
