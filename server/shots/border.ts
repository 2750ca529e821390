import { z } from 'zod';
import type { Coverage } from '@/core/fill/coverage';
import { BORDER_METHODS, extendedSize } from '@/core/inpaint/extendBorder';
import { LIMITS } from '../config';
import { Problem } from '../http/problem';
import { inThread } from '../threads/pool';
import { changeShot, documentOf, shotState, type ShotAt, type ShotState } from './history';
import { longWork } from './longWork';

const px = z.number().int().min(0).max(20_000);
/** More canvas around the picture, px a side. */
export const borderSchema = z.strictObject({
  left: px,
  top: px,
  right: px,
  bottom: px,
  method: z.enum(BORDER_METHODS),
  seed: z.number().int().min(0).max(1e9),
});
export type BorderOrder = z.infer<typeof borderSchema>;

/** How far the views run out of picture at the old frame's edges, px at full size. */
export async function coverage(id: string, views: number): Promise<Coverage> {
  const { document } = await shotState(id);
  return inThread('coverage', { document, views });
}

/**
 * Extends the canvas. The frame, to which everything that is handed over is cropped, stays where it was. One step of
 * the history; the
 * file as it came is kept.
 * @throws Problem `no-border`, `too-many-pixels`, `busy`, `stopped`
 */
export async function extendBorder(at: ShotAt, order: BorderOrder): Promise<ShotState> {
  const document = await documentOf(at);
  const { source } = document;
  const size = extendedSize(source, order);
  if (size.width === source.width && size.height === source.height)
    throw new Problem(422, 'no-border', 'The border is 0 px at every side, so nothing was changed.');
  if (size.width * size.height > LIMITS.pixels)
    throw new Problem(
      422,
      'too-many-pixels',
      `The canvas would have ${size.width} × ${size.height} px; at most ${LIMITS.pixels / 1e6} megapixels can be worked on. Add less.`,
    );
  const { method, seed, ...border } = order;
  const made = await longWork({ shot: at.id, name: 'the canvas', verb: 'Extending' }, (follow) =>
    inThread('extend', { document, extending: { border, method, seed } }, { follow }),
  );
  return changeShot(at, 'Extend the canvas', () => Promise.resolve(made.document));
}
