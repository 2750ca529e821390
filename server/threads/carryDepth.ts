import { carryDepth as carried, type DepthKey } from '@/core/carry/carryDepth';
import { carriedIn, segmentsOf } from '@/core/carry/segments';
import { toDepthMap } from '@/core/depth/toDepthMap';
import type { Mask, Picture8 } from '@/core/raster/picture';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { keyAt } from '@/core/shot/atMoment';
import { carriedName, depthFrom, hidingPlates } from '@/core/shot/carriedNames';
import type { Footage, ShotDocument } from '@/core/shot/document';
import { proxyPicture } from '../media/footage/proxyPicture';
import { proxyState } from '../media/footage/proxies';
import { writeDepthFile } from '../media/depthFile';
import { carriedIsThere, depthMap, forgetCarried, keepCarried } from '../shots/carriedRasters';
import { hiddenAt } from '../shots/hiddenAt';
import { task } from './task';

/**
 * Carries depth from the keys of a shot to all other frames of their scenes, at the size of the small pictures; what
 * is there stays.
 */
export const carryDepth = task<{ readonly document: ShotDocument }, { readonly carried: number }>(
  async ({ document }, onProgress) => {
    const { source } = document;
    const footage = document.footage!;
    const from = depthFrom(document);
    const { cuts } = await proxyState(source);
    const nameOf = (frame: number): string => carriedName(source.mediaId, from, frame);
    const frames = footage.keys.map(({ frame }) => frame);
    const open = segmentsOf(footage.frames, frames, cuts).filter((segment) =>
      carriedIn(segment).some((frame) => !carriedIsThere(nameOf(frame))),
    );
    const all = open.reduce((sum, segment) => sum + carriedIn(segment).length, 0);
    const cut = hidingPlates(document.plates).length > 0;
    let done = 0;
    for (const segment of open) {
      const { first, last } = segment;
      const size = await proxyPicture(source, first);
      const keys: DepthKey[] = [];
      for (const frame of segment.keys)
        keys.push({ frame: frame - first, depth: await keyDepth(footage, frame, size) });
      const apart = async (n: number): Promise<Mask | undefined> =>
        cut ? hiddenAt(document, first + n, size) : undefined;
      const view = { count: last - first + 1, frame: (n: number) => proxyPicture(source, first + n) };
      for await (const { frame, depth, trust } of carried(view, keys, apart)) {
        if (segment.keys.includes(first + frame)) continue;
        const write = { depth: (path: string) => writeDepthFile(path, toDepthMap(size, depth)) };
        await keepCarried(nameOf(first + frame), write, { trust });
        onProgress(++done / all);
      }
    }
    await forgetCarried();
    return { carried: done };
  },
);

async function keyDepth(footage: Footage, frame: number, size: Picture8): Promise<DepthKey['depth']> {
  return resizeDepth(await depthMap(keyAt(footage, frame)!.revision, size), size);
}
