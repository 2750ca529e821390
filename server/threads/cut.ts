import type { MessagePort } from 'node:worker_threads';
import { CoreError } from '@/core/error';
import { widened } from '@/core/raster/bits';
import type { DepthMap, Mask } from '@/core/raster/picture';
import { ChoiceMaker, type Choice } from '@/core/matte/choice';
import { spareOthers } from '@/core/matte/share';
import { cutDepth } from '@/core/shot/cutPlate';
import { readRasterEightBits } from '../media/decode';

/** What a thread needs to cut a plate: where the source's raster lies, what it is cut from, and which mattes keep what they hold. */
export interface CutOrder {
  readonly raster: string;
  readonly choice: Choice;
  readonly depth: DepthMap;
  readonly span: { readonly near: number; readonly far: number };
  readonly spared: readonly Mask[];
}
/** Coverage 0 to 65535, and the plate's own depth. */
export interface CutResult {
  readonly matte: Uint16Array;
  readonly depth: Uint16Array;
  readonly near: number;
  readonly far: number;
}
/** A refusal as plain data: an error loses its code on the way between threads. */
export interface Refusal {
  readonly refused: { readonly code: string; readonly message: string };
}

/** Makes a plate's matte and depth at full size; runs in a thread of its own, so that the server answers meanwhile. */
export async function cut({
  raster,
  choice,
  depth,
  span,
  spared,
  told,
}: CutOrder & { readonly told: MessagePort }): Promise<CutResult | Refusal> {
  const picture = await readRasterEightBits(raster);
  let matte: Mask;
  try {
    matte = spareOthers(
      new ChoiceMaker(picture).make(choice, depth, (share) => {
        told.postMessage(share);
      }),
      spared,
    );
    if (!matte.data.some((v) => v > 0))
      throw new CoreError(
        'nothing-chosen',
        'Nothing is left of the choice: other plates hold all of it. Take from those first, or let the plates overlap.',
      );
  } catch (error) {
    if (error instanceof CoreError) return { refused: { code: error.code, message: error.message } };
    throw error;
  } finally {
    told.close();
  }
  const own = cutDepth(depth, span, matte);
  return { matte: widened(matte.data), depth: own.depth.data, near: own.near, far: own.far };
}
