import type { DepthMap, Picture } from '../raster/picture';
import { parallaxOf, type Budget } from '../stereo/parallax';
import { synthesizeView, type SynthesizedView, type ViewBuffers } from '../stereo/synthesizeView';
import type { ShotDocument } from './document';

/** The parts of a document that decide how a view looks. */
export type StereoPart = Pick<ShotDocument, 'budget' | 'sourceEye' | 'swapEyes' | 'tearPx'> & { depth: Pick<ShotDocument['depth'], 'near' | 'far'>; source: Pick<ShotDocument['source'], 'width'> };

/** Parallax of the depth map's white and black, px at the source's width: the budget seen through the plate's depth span. */
export function mapBudget(document: StereoPart): Budget {
  return { nearPx: parallaxOf(document.depth.near, document.budget), farPx: parallaxOf(document.depth.far, document.budget) };
}

/**
 * One view of a shot. Preview and final render both call this, at different sizes: parallax and tear limit are scaled from the
 * source's width to the `scale` at which picture and depth are given.
 *
 * @param eye -1/2 left to +1/2 right; swapped eyes each get what the other would see
 * @param scale picture px per source px. A jump of less than 1 px opens no gap at any size and never tears.
 */
export function renderView<P extends Picture>(
  document: StereoPart, picture: P, depth: DepthMap, eye: number, scale: number, holes: 'fill' | 'row' | 'keep' = 'fill', out?: ViewBuffers<P>,
): SynthesizedView<P> {
  const budget = mapBudget(document);
  return synthesizeView(picture, depth, {
    budget: { nearPx: budget.nearPx * scale, farPx: budget.farPx * scale },
    sourceEye: document.sourceEye,
    eye: document.swapEyes ? -eye : eye,
    tearPx: Math.max(document.tearPx * scale, Math.min(document.tearPx, 1)),
    holes,
  }, out);
}
