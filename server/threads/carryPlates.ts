import { carryPlate, type PlateKeyPixels } from '@/core/carry/carryPlate';
import { carriedIn, framesWithout, segmentsOf, type Segment } from '@/core/carry/segments';
import type { Size } from '@/core/kind';
import type { Mask } from '@/core/raster/picture';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { hidingPlates, plateName } from '@/core/shot/carriedNames';
import type { Plate, PlateKey, ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { proxyState } from '../media/footage/proxies';
import { proxyPicture } from '../media/footage/proxyPicture';
import { writeDepthFile } from '../media/depthFile';
import { writeMatte } from '../media/writePicture';
import { carriedIsThere, depthMap, forgetCarried, keepCarried, matteMap, resizedMatte } from '../shots/carriedRasters';
import { loadChoice } from '../shots/choices';
import { task } from './task';

const framesOf = ({ keys }: Plate): number[] => keys.map(({ frame }) => frame);

interface Open {
  readonly plate: Plate;
  readonly segment: Segment;
}

/** Carries the plates of a film from their keys to all other frames of their scenes; what is there stays. */
export const carryPlates = task<{ readonly document: ShotDocument }, { readonly carried: number }>(
  async ({ document: { source, footage, plates } }, onProgress) => {
    const { cuts } = await proxyState(source);
    const nameOf = (plate: Plate, frame: number): string => plateName(source.mediaId, plate, frame);
    const open = hidingPlates(plates).flatMap((plate) =>
      segmentsOf(footage!.frames, framesOf(plate), cuts)
        .filter((segment) => carriedIn(segment).some((frame) => !carriedIsThere(nameOf(plate, frame))))
        .map((segment): Open => ({ plate, segment })),
    );
    const all = open.reduce((sum, { segment }) => sum + carriedIn(segment).length, 0);
    let done = 0;
    for (const { plate, segment } of open) {
      const { first, last } = segment;
      const size = await proxyPicture(source, first);
      const keys: PlateKeyPixels[] = [];
      for (const key of plate.keys)
        if (segment.keys.includes(key.frame))
          keys.push({ ...(await pixelsOf(key, source, size)), frame: key.frame - first });
      const view = { count: last - first + 1, frame: (n: number) => proxyPicture(source, first + n) };
      const place = { left: 0, top: 0, scale: size.width / source.width };
      for await (const { frame, matte, depth, trust, choice } of carryPlate(view, keys, place)) {
        const write = {
          matte: (path: string) => writeMatte(path, matte),
          depth: (path: string) => writeDepthFile(path, depth),
        };
        await keepCarried(nameOf(plate, first + frame), write, { trust, choice });
        onProgress(++done / all);
      }
    }
    // Behind a cut a plate that has no key is not there.
    for (const plate of hidingPlates(plates))
      for (const frame of framesWithout(footage!.frames, framesOf(plate), cuts)) {
        if (carriedIsThere(nameOf(plate, frame))) continue;
        const { width, height } = await proxyPicture(source, frame);
        const none = { width, height, data: new Uint8Array(width * height) };
        const flat = { width, height, data: new Uint16Array(width * height) };
        await keepCarried(
          nameOf(plate, frame),
          { matte: (path) => writeMatte(path, none), depth: (path) => writeDepthFile(path, flat) },
          { trust: 1 },
        );
      }
    await forgetCarried();
    return { carried: done };
  },
);

/** What a plate has at a key, as the small pictures show it. */
async function pixelsOf(
  { frame, matte, choice, depth }: PlateKey,
  source: ShotDocument['source'],
  size: Size,
): Promise<PlateKeyPixels> {
  const n = size.width * size.height;
  const gone: Mask = { ...size, data: new Uint8Array(n) };
  return {
    frame,
    matte: matte === null ? gone : await resizedMatte(await matteMap(matte, source), size),
    depth:
      depth.revision === null
        ? { ...size, data: new Uint16Array(n) }
        : resizeDepth(await depthMap(depth.revision, source), size),
    choice: choice === null ? undefined : await loadChoice(await database(), choice),
  };
}
