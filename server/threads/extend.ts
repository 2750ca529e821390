import type { MessagePort } from 'node:worker_threads';
import { CoreError } from '@/core/error';
import { extendPicture, type Border, type BorderMethod } from '@/core/inpaint/extendBorder';
import { readRaster } from '../media/decode';
import { writePicture } from '../media/writePicture';
import type { Refusal } from './cut';

/** What a thread needs to put canvas around a picture: where the source's raster lies, how much is added in which way, and the PNG file that is written. */
export interface ExtendOrder {
  readonly raster: string;
  readonly bits: 8 | 16;
  readonly hasAlpha: boolean;
  readonly out: string;
  readonly border: Border;
  readonly method: BorderMethod;
  readonly seed: number;
}
export interface ExtendResult {
  readonly width: number;
  readonly height: number;
}

export async function extend({
  raster,
  bits,
  hasAlpha,
  out,
  border,
  method,
  seed,
  told,
}: ExtendOrder & { readonly told: MessagePort }): Promise<ExtendResult | Refusal> {
  try {
    const picture = extendPicture(await readRaster(raster, bits), border, method, seed, (share) => {
      told.postMessage(share);
    });
    await writePicture(out, picture, bits === 16 ? 'png16' : 'png', { alpha: hasAlpha });
    return { width: picture.width, height: picture.height };
  } catch (error) {
    if (error instanceof CoreError) return { refused: { code: error.code, message: error.message } };
    throw error;
  } finally {
    told.close();
  }
}
