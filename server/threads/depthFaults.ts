import { faultsOf, type Fault } from '@/core/depth/faults';
import type { ShotDocument } from '@/core/shot/document';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { depthMap } from '../shots/carriedRasters';
import { task } from './task';

/** Looks a stored map over, at full size: terraces are not seen in a smaller one. */
export const depthFaults = task<
  { readonly source: ShotDocument['source']; readonly revision: string },
  { readonly faults: readonly Fault[] }
>(async ({ source, revision }) => {
  const map = await depthMap(revision, source);
  return { faults: faultsOf(map, await readRasterEightBits(await sourceRaster(source))) };
});
