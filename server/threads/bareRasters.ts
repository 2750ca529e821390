import type { ShotDocument } from '@/core/shot/document';
import type { ShotRasters } from '@/core/shot/rasters';
import type { Premultiplied } from '@/core/raster/picture';
import { layoutOf } from '../shots/layout';
import { bareDocument, shotRasters } from '../shots/platePixels';

/** Larger pictures are laid out anew each time: they would hold too much memory. */
const KEPT_PIXELS = 12_000_000;

/** The last shot that this thread has laid out; a thread that rests ends, and this with it. */
let kept: { readonly layout: string; readonly rasters: ShotRasters<Premultiplied> } | undefined;

/** Whether a shot, once laid out, stays so for a while. */
export const isKept = ({ source: { width, height } }: Pick<ShotDocument, 'source'>): boolean =>
  width * height <= KEPT_PIXELS;

/** A shot laid out in plates with nothing put on them; the same object for the same layout, so nothing of it may be changed. */
export async function bareRasters(document: ShotDocument): Promise<ShotRasters<Premultiplied>> {
  const layout = layoutOf(document);
  if (kept?.layout === layout) return kept.rasters;
  kept = undefined;
  const rasters = await shotRasters(bareDocument(document));
  if (isKept(document)) kept = { layout, rasters };
  return rasters;
}
