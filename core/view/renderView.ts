import type { ShotRasters } from '../shot/rasters';
import type { Picture } from '../raster/picture';
import { over } from '../stereo/over';
import { parallaxOf, type Budget } from '../stereo/parallax';
import { synthesizeView, viewBuffers, type SynthesizedView, type ViewBuffers } from '../stereo/synthesizeView';
import { softenTears } from '../stereo/softenTears';
import { drawnPlates, type Plate, type ShotDocument } from '../shot/document';

/** The parts of a document that decide how a view looks. */
export type StereoPart = Pick<ShotDocument, 'budget' | 'sourceEye' | 'swapEyes' | 'tearPx'> & {
  /** How softly torn edges fade; none where it is not given. */
  tearSoftPx?: number;
  depth: Pick<ShotDocument['depth'], 'near' | 'far'>;
  source: Pick<ShotDocument['source'], 'width'>;
  plates: readonly (Pick<Plate, 'id' | 'matte' | 'hidden'> & {
    readonly tearPx?: number | null;
    readonly tearSoftPx?: number | null;
    depth: Pick<Plate['depth'], 'near' | 'far'>;
  })[];
};

/** Parallax of a depth map's white and black, px at the source's width: the budget seen through a plate's depth span (the back plate's where none is given). */
export function mapBudget(
  document: Pick<StereoPart, 'budget' | 'depth'>,
  span: { readonly near: number; readonly far: number } = document.depth,
): Budget {
  return { nearPx: parallaxOf(span.near, document.budget), farPx: parallaxOf(span.far, document.budget) };
}

/** Room for one plate after another, kept from call to call. */
const plateRoom = new WeakMap<object, ViewBuffers<Picture>>();

/**
 * One view of a shot: every plate seen from the eye, the nearer over the farther. Preview and final render both call this, at
 * different sizes: parallax and tear limit are scaled from the source's width to the `scale` at which the rasters are given.
 *
 * @param eye -1/2 left to +1/2 right; swapped eyes each get what the other would see
 * @param scale raster px per source px. A jump of less than 1 px opens no gap at any size and never tears.
 */
export function renderView<P extends Picture>(
  document: StereoPart,
  rasters: ShotRasters<P>,
  eye: number,
  scale: number,
  holes: 'fill' | 'row' | 'keep' = 'fill',
  out: ViewBuffers<P> = viewBuffers(rasters.picture),
): SynthesizedView<P> {
  const geometry = (span?: { near: number; far: number }, tearPx: number = document.tearPx) => {
    const budget = mapBudget(document, span);
    return {
      budget: { nearPx: budget.nearPx * scale, farPx: budget.farPx * scale },
      sourceEye: document.sourceEye,
      eye: document.swapEyes ? -eye : eye,
      tearPx: Math.max(tearPx * scale, Math.min(tearPx, 1)),
      holes,
    };
  };
  const soft = (own?: number | null): number => (holes === 'keep' ? 0 : (own ?? document.tearSoftPx ?? 0) * scale);
  const view = synthesizeView(rasters.picture, rasters.depth, geometry(), out);
  softenTears(view.picture, view.revealed, soft());
  const drawn = drawnPlates(document.plates).filter((p) => rasters.plates.some((r) => r.id === p.id));
  if (drawn.length === 0) return view;
  for (const plate of drawn) {
    const raster = rasters.plates.find((r) => r.id === plate.id)!;
    let room = plateRoom.get(raster.picture) as ViewBuffers<P> | undefined;
    if (!room) plateRoom.set(raster.picture, (room = viewBuffers(raster.picture)));
    synthesizeView(raster.picture, raster.depth, geometry(plate.depth, plate.tearPx ?? undefined), room);
    softenTears(room.picture, room.revealed, soft(plate.tearSoftPx));
    over(out.picture, room.picture, raster.top, { under: out.revealed, upper: room.revealed });
  }
  let revealedCount = 0;
  for (const v of out.revealed.data) if (v !== 0) revealedCount++;
  return { ...view, revealedCount };
}
