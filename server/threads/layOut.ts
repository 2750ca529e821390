import type { CutPlate, ShotRasters } from '@/core/shot/rasters';
import { move, transferableSymbol, valueSymbol } from 'piscina';
import type { DepthMap, Picture } from '@/core/raster/picture';
import { layOutPlates, type BackPlate } from '@/core/shot/layOut';
import { readRaster } from '../media/decode';

/** What a thread needs to lay a shot out: where the source's raster lies, and the stored maps of its plates. */
export interface LayOutOrder {
  readonly raster: string;
  readonly bits: 8 | 16;
  readonly depth: DepthMap;
  readonly plates: readonly CutPlate[];
  readonly back: BackPlate;
}

/** Lays a shot out in a thread of its own, so that the server answers meanwhile; the pixels come back without being copied. */
export async function layOut({ raster, bits, depth, plates, back }: LayOutOrder): Promise<unknown> {
  const laid: ShotRasters<Picture> = layOutPlates(await readRaster(raster, bits), depth, plates, back);
  const buffers = new Set(
    [laid.picture, laid.depth, laid.hole, ...laid.plates.flatMap((p) => [p.picture, p.depth, p.hidden])].flatMap((r) =>
      r ? [r.data.buffer as ArrayBuffer] : [],
    ),
  );
  return move({ [transferableSymbol]: [...buffers], [valueSymbol]: laid });
}
