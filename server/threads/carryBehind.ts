import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import { carryBehind as carried } from '@/core/carry/behind/carryBehind';
import type { BehindFrame } from '@/core/carry/behind/frames';
import { CoreError } from '@/core/error';
import type { Size } from '@/core/kind';
import { pictureOf, toEightBits, type Straight, type Straight8 } from '@/core/raster/picture';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { atMoment } from '@/core/shot/atMoment';
import { behindHashes, behindName, filledName, isCarriedName } from '@/core/shot/carriedNames';
import type { ShotDocument } from '@/core/shot/document';
import { fillKeyAt } from '@/core/shot/fillAtMoment';
import { proxyState } from '../media/footage/proxies';
import { proxyPicture } from '../media/footage/proxyPicture';
import { writeDepthFile } from '../media/depthFile';
import { writePicture } from '../media/writePicture';
import { carriedIsThere, depthMap, filledPicture, forgetCarried, keepCarried } from '../shots/carriedRasters';
import { hiddenAt } from '../shots/hiddenAt';
import { task } from './task';

/** So many frames are kept while others borrow from them. */
const KEPT = 64;
/** Motions are fitted for this share of the work. */
const FITTED = 0.4;

/**
 * Finds what lies behind the plates of a film in every frame of it, at the size of the small pictures; what is there
 * stays.
 * @throws CoreError `not-carried` where plates or depth are not there yet
 */
export const carryBehind = task<{ readonly document: ShotDocument }, { readonly carried: number }>(
  async ({ document }, onProgress) => {
    const { source, footage } = document;
    const { frames, fills } = footage!;
    const hashes = behindHashes(document);
    const names = (n: number): { behind: string; filled: string } => ({
      behind: behindName(source.mediaId, hashes.depth, n),
      filled: filledName(source.mediaId, hashes.colours, n),
    });
    const isThere = (n: number): boolean => carriedIsThere(names(n).behind) && carriedIsThere(names(n).filled);
    const { cuts } = await proxyState(source);
    const bounds = [0, ...cuts, frames];
    let done = 0;
    for (let scene = 0; scene + 1 < bounds.length; scene++) {
      const [begin, end] = [bounds[scene], bounds[scene + 1]];
      const all = Array.from({ length: end - begin }, (_, n) => begin + n);
      if (all.every(isThere)) continue;
      const kept = new LRUCache<number, Promise<BehindFrame>>({ max: KEPT });
      const view = {
        count: end - begin,
        painted: fills.map(({ frame }) => frame - begin).filter((n) => n >= 0 && n < end - begin),
        frame: (n: number): Promise<BehindFrame> => {
          const known = kept.get(n) ?? frameAt(document, begin + n);
          kept.set(n, known);
          return known;
        },
      };
      const progress = (share: number): void => {
        onProgress((begin + share * (end - begin)) / frames);
      };
      const fitted = (share: number): void => {
        progress(FITTED * share);
      };
      for await (const { frame, colours, depth, seen } of carried(view, fitted)) {
        const { behind, filled } = names(begin + frame);
        await keepCarried(behind, { depth: (path) => writeDepthFile(path, depth) }, { trust: seen });
        const write = { colours: (path: string) => writePicture(path, colours, 'png', { alpha: true }) };
        await keepCarried(filled, write, { trust: seen });
        done++;
        progress(FITTED + (1 - FITTED) * (frame / (end - begin)));
      }
    }
    await forgetCarried();
    return { carried: done };
  },
);

/** A frame as its small picture shows it, with what its plates hide. @throws CoreError `not-carried` */
async function frameAt(document: ShotDocument, n: number): Promise<BehindFrame> {
  const here = atMoment(document, n, carriedIsThere);
  const { source, depth, footage } = here;
  if (!isCarriedName(depth.revision) && !footage!.keys.some(({ frame }) => frame === n))
    throw new CoreError('not-carried', `Depth is not carried to frame ${n + 1} yet. Carry plates and depth first.`);
  const picture = await proxyPicture(source, n);
  const hole = await hiddenAt(document, n, picture);
  const filled = fillKeyAt(footage!, n)?.fill;
  return {
    picture,
    depth: resizeDepth(await depthMap(depth.revision, source), picture),
    hole,
    painted: filled ? await reduced(await filledPicture(filled, source), picture) : undefined,
  };
}

/** A picture at the size of the small ones. */
async function reduced(picture: Straight, { width, height }: Size): Promise<Straight8> {
  const eight = toEightBits(picture);
  const raw = { width: picture.width, height: picture.height, channels: 4 } as const;
  const data = await sharp(eight.data, { raw, limitInputPixels: false })
    .resize(width, height, { fit: 'fill' })
    .raw()
    .toBuffer();
  return pictureOf({ width, height }, new Uint8Array(data.buffer, data.byteOffset, data.length), 'straight');
}
