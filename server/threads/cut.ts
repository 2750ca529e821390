import { CoreError } from '@/core/error';
import type { DepthMap, Mask } from '@/core/raster/picture';
import { ChoiceMaker, type Choice } from '@/core/matte/choice';
import { cutDepth } from '@/core/shot/cutPlate';
import { readRasterEightBits } from '../media/decode';

/** What a thread needs to cut a plate: where the source's raster lies, and what it is cut from. */
export interface CutOrder { readonly raster: string; readonly choice: Choice; readonly depth: DepthMap; readonly span: { readonly near: number; readonly far: number } }
/** Coverage 0 to 65535, and the plate's own depth. */
export interface CutResult { readonly matte: Uint16Array; readonly depth: Uint16Array; readonly near: number; readonly far: number }
/** A refusal as plain data: an error loses its code on the way between threads. */
export interface CutRefusal { readonly refused: { readonly code: string; readonly message: string } }

/** Makes a plate's matte and depth at full size; runs in a thread of its own, so that the server answers meanwhile. */
export async function cut({ raster, choice, depth, span }: CutOrder): Promise<CutResult | CutRefusal> {
  const picture = await readRasterEightBits(raster);
  let matte: Mask;
  try {
    matte = new ChoiceMaker(picture).make(choice, depth);
  } catch (error) {
    if (error instanceof CoreError) return { refused: { code: error.code, message: error.message } };
    throw error;
  }
  const own = cutDepth(depth, span, matte);
  return { matte: Uint16Array.from(matte.data, (v) => v * 257), depth: own.depth.data, near: own.near, far: own.far };
}
