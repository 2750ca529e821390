import { depthFromMotion } from '@/core/carry/depthFromMotion';
import { resizeDepth } from '@/core/raster/resizeDepth';
import type { ShotDocument } from '@/core/shot/document';
import { inTransaction } from '../db/orm';
import { proxyState } from '../media/footage/proxies';
import { proxyPicture } from '../media/footage/proxyPicture';
import { storeMap } from '../rasters/revisions';
import { task } from './task';

/** A first depth from the camera's own motion around a frame, within its scene, stored. @throws CoreError `camera-still` */
export const motionDepth = task<
  { readonly source: ShotDocument['source']; readonly frames: number },
  { readonly revision: string }
>(async ({ source, frames }) => {
  const { cuts } = await proxyState(source);
  const moment = source.moment ?? 0;
  const begin = [0, ...cuts].filter((cut) => cut <= moment).pop()!;
  const end = cuts.find((cut) => cut > moment) ?? frames;
  const view = { count: end - begin, frame: (n: number) => proxyPicture(source, begin + n) };
  const map = resizeDepth(await depthFromMotion(view, moment - begin), source);
  return inTransaction(async (em) => ({ revision: (await storeMap(em, map)).id }));
});
