import type { MessagePort } from 'node:worker_threads';
import { CoreError } from '@/core/error';
import { fillHole, type FillMethod } from '@/core/inpaint/fillHole';
import type { Mask, Picture } from '@/core/raster/picture';
import type { Refusal } from './cut';

/** What a thread needs to fill a hole; several seeds give several proposals. */
export interface FillOrder {
  readonly picture: Picture;
  readonly hole: Mask;
  readonly sampleFrom: Mask;
  readonly method: FillMethod;
  readonly seeds: readonly number[];
}
export interface FillResult {
  readonly pictures: readonly Picture[];
}

export function fill({
  picture,
  hole,
  sampleFrom,
  method,
  seeds,
  told,
}: FillOrder & { readonly told: MessagePort }): FillResult | Refusal {
  try {
    return {
      pictures: seeds.map((seed, n) =>
        fillHole(picture, hole, method, {
          seed,
          sampleFrom,
          onProgress: (share) => {
            told.postMessage((n + share) / seeds.length);
          },
        }),
      ),
    };
  } catch (error) {
    if (error instanceof CoreError) return { refused: { code: error.code, message: error.message } };
    throw error;
  } finally {
    told.close();
  }
}
