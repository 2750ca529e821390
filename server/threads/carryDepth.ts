import sharp from 'sharp';
import { carryDepth as carried, type DepthKey } from '@/core/carry/carryDepth';
import { carriedIn, segmentsOf } from '@/core/carry/segments';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { pictureOf, type Picture8 } from '@/core/raster/picture';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { carriedName, keyAt } from '@/core/shot/atMoment';
import type { Footage, ShotDocument } from '@/core/shot/document';
import { proxyOf, proxyState } from '../media/footage/proxies';
import { writeDepthFile } from '../media/depthFile';
import { carriedIsThere, depthMap, forgetCarried, keepCarried } from '../shots/carriedDepth';
import { task } from './task';

/**
 * Carries depth from the keys of a shot to all other frames of their scenes, at the size of the small pictures; what
 * is there stays.
 */
export const carryDepth = task<
  { readonly source: ShotDocument['source']; readonly footage: Footage },
  { readonly carried: number }
>(async ({ source, footage }, onProgress) => {
  const { cuts } = await proxyState(source);
  const nameOf = (frame: number): string => carriedName(source.mediaId, footage, frame);
  const frames = footage.keys.map(({ frame }) => frame);
  const open = segmentsOf(footage.frames, frames, cuts).filter((segment) =>
    carriedIn(segment).some((frame) => !carriedIsThere(nameOf(frame))),
  );
  const all = open.reduce((sum, segment) => sum + carriedIn(segment).length, 0);
  let done = 0;
  for (const segment of open) {
    const { first, last } = segment;
    const size = await frameAt(source, first);
    const keys: DepthKey[] = [];
    for (const frame of segment.keys) keys.push({ frame: frame - first, depth: await keyDepth(footage, frame, size) });
    const view = { count: last - first + 1, frame: (n: number) => frameAt(source, first + n) };
    for await (const { frame, depth, trust } of carried(view, keys)) {
      if (segment.keys.includes(first + frame)) continue;
      await keepCarried(nameOf(first + frame), (path) => writeDepthFile(path, toDepthMap(size, depth)), trust);
      onProgress(++done / all);
    }
  }
  await forgetCarried();
  return { carried: done };
});

/** A frame as its small picture shows it. */
async function frameAt(source: ShotDocument['source'], frame: number): Promise<Picture8> {
  const { data, info } = await sharp(await proxyOf(source, frame))
    .toColourspace('srgb')
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  return pictureOf(info, new Uint8Array(data.buffer, data.byteOffset, data.length), 'straight');
}

async function keyDepth(footage: Footage, frame: number, size: Picture8): Promise<DepthKey['depth']> {
  return resizeDepth(await depthMap(keyAt(footage, frame)!.revision, size), size);
}
