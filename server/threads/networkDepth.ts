import type { ShotDocument } from '@/core/shot/document';
import { inTransaction } from '../db/orm';
import { readRasterEightBits, sourceRaster } from '../media/decode';
import { networkPath } from '../network/networks';
import { runNetwork } from '../network/runNetwork';
import { storeMap } from '../rasters/revisions';
import { task } from './task';

/** A network of the folder, and how closely its map is fitted to the source's edges, 0 to 1. */
interface NetworkOrder {
  readonly source: ShotDocument['source'];
  readonly network: string;
  readonly edges: number;
}

/** A depth map by a network of the user's own, stored. @throws Problem what is wrong with it, by its name */
export const networkDepth = task<NetworkOrder, { readonly revision: string }>(
  async ({ source, network, edges }, onProgress) => {
    const path = await networkPath(network);
    const picture = await readRasterEightBits(await sourceRaster(source));
    const map = await runNetwork(path, picture, { edges, onProgress });
    return inTransaction(async (em) => ({ revision: (await storeMap(em, map)).id }));
  },
);
