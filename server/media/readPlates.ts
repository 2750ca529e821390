import type { Painted, PlateRaster, ShotRasters } from '@/core/shot/rasters';
import { readFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import { premultiply } from '@/core/raster/alpha';
import {
  copyPicture,
  emptyPicture,
  isDeep,
  type DepthMap,
  type Mask,
  type Premultiplied,
  type Straight,
} from '@/core/raster/picture';
import { liftPlate } from '@/core/shot/plates';
import { readDepthFile } from './depthFile';
import { pixelsOf } from './pixelsOf';
import { inspectPicture } from './inspect';
import { plateListSchema, type PlateEntry, type PlateList } from './plateList';

/** A plate of a folder: what plates.json says of it, and its pixels over the whole canvas. */
export interface PlateFiles {
  readonly entry: PlateEntry;
  readonly picture: Straight;
  readonly matte: Mask;
  readonly depth: DepthMap;
  readonly fill: Straight | undefined;
  readonly painted: Painted;
}

/** The back plate of a folder: the source's picture and depth, and what lies where plates were lifted. */
export interface BackFiles {
  readonly entry: PlateEntry;
  readonly picture: Straight;
  readonly depth: DepthMap;
  readonly fill: Straight | undefined;
  readonly fillDepth: DepthMap | undefined;
  readonly painted: Painted;
  readonly behind: DepthMap | undefined;
}

/** Reads plates.json. @throws CoreError `no-plates`, `bad-plates` */
export async function readPlateList(dir: string): Promise<PlateList> {
  const path = join(dir, 'plates.json');
  const text = await readFile(path, 'utf8').catch(() => {
    throw new CoreError(
      'no-plates',
      `${path} does not exist. The folder must be one that 'cork-twin plates' has written.`,
    );
  });
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    throw new CoreError('bad-plates', `plates.json cannot be read: ${(error as Error).message}.`);
  }
  const parsed = plateListSchema.safeParse(json);
  if (!parsed.success)
    throw new CoreError(
      'bad-plates',
      `plates.json cannot be read: ${parsed.error.issues[0].path.join('.')} ${parsed.error.issues[0].message}.`,
    );
  return parsed.data;
}

/**
 * Everything in a folder of plates; a plate's pixels are read when it is opened, so that one is held at a time.
 * Nothing in it may leave the folder. @throws CoreError `no-plates`, `bad-plates`, `size-differs`; Problem what its
 * pictures throw
 */
export async function readPlateFolder(dir: string): Promise<{
  list: PlateList;
  back: BackFiles;
  plates: (() => Promise<PlateFiles>)[];
  bits: 8 | 16;
  hasAlpha: boolean;
}> {
  const list = await readPlateList(dir);
  const { width, height } = list;
  const sized = <T extends { width: number; height: number }>(what: T, name: string): T => {
    if (what.width !== width || what.height !== height)
      throw new CoreError(
        'size-differs',
        `${name} is ${what.width} × ${what.height} px but plates.json says ${width} × ${height} px.`,
      );
    return what;
  };
  const [first, ...others] = list.plates;
  const { bits, hasAlpha } = await inspectPicture(join(dir, first.picture), first.picture);
  const picture = async (name: string): Promise<Straight> => readRgba(join(dir, name), bits);
  const depth = async (name: string): Promise<DepthMap> =>
    readDepthFile(join(dir, name), basename(name), { whiteIsNear: true, mend: false });
  const painted = async ({ filled, overpaint }: PlateEntry): Promise<Painted> => ({
    ...(filled === null ? {} : { fill: sized(await picture(filled), filled) }),
    ...(overpaint === null ? {} : { overpaint: sized(await picture(overpaint), overpaint) }),
  });
  const back: BackFiles = {
    entry: first,
    picture: sized(await picture(first.picture), first.picture),
    depth: sized(await depth(first.depth), first.depth),
    fill: first.fill === null ? undefined : sized(await picture(first.fill), first.fill),
    fillDepth: first.fillDepth === null ? undefined : sized(await depth(first.fillDepth), first.fillDepth),
    painted: await painted(first),
    behind: first.behind === null ? undefined : sized(await depth(first.behind), first.behind),
  };
  const open = async (entry: PlateEntry): Promise<PlateFiles> => {
    const part = await picture(entry.picture);
    const map = await depth(entry.depth);
    if (map.width !== part.width || map.height !== part.height)
      throw new CoreError(
        'size-differs',
        `${entry.depth} is ${map.width} × ${map.height} px but ${entry.picture} ${part.width} × ${part.height} px. ` +
          `Both must have the same size.`,
      );
    if (entry.left + part.width > width || entry.top + part.height > height)
      throw new CoreError(
        'size-differs',
        `${entry.picture} is ${part.width} × ${part.height} px at ${entry.left}, ${entry.top}: ` +
          `it reaches beyond the canvas of ${width} × ${height} px.`,
      );
    const placed = emptyPicture(part, width, height);
    const most = isDeep(placed) ? 65535 : 255;
    const matte: Mask = { width, height, data: new Uint8Array(width * height) };
    const whole: DepthMap = { width, height, data: new Uint16Array(width * height) };
    for (let y = 0; y < part.height; y++) {
      const to = (entry.top + y) * width + entry.left;
      placed.data.set(part.data.subarray(y * part.width * 4, (y + 1) * part.width * 4), to * 4);
      whole.data.set(map.data.subarray(y * part.width, (y + 1) * part.width), to);
      for (let x = 0; x < part.width; x++)
        matte.data[to + x] = Math.round((part.data[(y * part.width + x) * 4 + 3] * 255) / most);
    }
    return {
      entry,
      picture: placed,
      matte,
      depth: whole,
      fill: entry.fill === null ? undefined : sized(await picture(entry.fill), entry.fill),
      painted: await painted(entry),
    };
  };
  return { list, back, plates: others.map((entry) => () => open(entry)), bits, hasAlpha };
}

/** A folder of plates as rasters to render from, and the list that says how. @throws as readPlateFolder */
export async function readPlates(dir: string): Promise<{
  list: PlateList;
  rasters: ShotRasters<Premultiplied>;
  ids: readonly string[];
  bits: 8 | 16;
  hasAlpha: boolean;
}> {
  const { list, back, plates, bits, hasAlpha } = await readPlateFolder(dir);
  const ground = premultiply(back.picture, hasAlpha);
  const map = back.depth;
  if (back.fill) {
    for (let i = 0; i < map.data.length; i++) {
      if (back.fill.data[i * 4 + 3] === 0) continue;
      for (let c = i * 4; c < i * 4 + 4; c++) ground.data[c] = back.fill.data[c];
      if (back.fillDepth) map.data[i] = back.fillDepth.data[i];
    }
  }
  const lifted: PlateRaster<Premultiplied>[] = [];
  const ids = plates.map((_, n) => `00000000-0000-4000-8000-${String(n + 1).padStart(12, '0')}`);
  for (const [n, open] of plates.entries()) {
    const p = await open();
    lifted.push(
      ...withFill(
        liftPlate(ground, { id: ids[n], matte: p.matte, depth: p.depth, picture: p.picture }),
        p,
        ground,
        ids[n],
      ),
    );
  }
  return { list, rasters: { picture: ground, depth: map, hole: holeOf(back), plates: lifted }, ids, bits, hasAlpha };
}

/** Where the back plate was filled. */
function holeOf({ fill }: BackFiles): Mask | undefined {
  return (
    fill && {
      width: fill.width,
      height: fill.height,
      data: Uint8Array.from({ length: fill.width * fill.height }, (_, i) => (fill.data[i * 4 + 3] > 0 ? 255 : 0)),
    }
  );
}

/** A plate's rows with what it has behind nearer ones laid under it. */
function withFill(
  lifted: PlateRaster<Premultiplied>[],
  { matte, depth, picture, fill }: PlateFiles,
  ground: Premultiplied,
  id: string,
): PlateRaster<Premultiplied>[] {
  if (!fill) return lifted;
  // Rows that the plate or its fill covers: both taken as covered, then the fill shows where it lies.
  const whole: Mask = { ...matte, data: Uint8Array.from(matte.data, (v, i) => (fill.data[i * 4 + 3] > 0 ? 255 : v)) };
  const both = copyPicture(picture);
  for (let i = 0; i < whole.data.length; i++)
    if (fill.data[i * 4 + 3] > 0) both.data.set(fill.data.subarray(i * 4, i * 4 + 4), i * 4);
  return liftPlate(ground, { id, matte: whole, depth, picture: both }).map((r) => ({
    ...r,
    hidden: {
      width: matte.width,
      height: r.depth.height,
      data: Uint8Array.from({ length: r.depth.data.length }, (_, i) =>
        fill.data[(r.top * matte.width + i) * 4 + 3] > 0 ? 255 : 0,
      ),
    },
  }));
}

async function readRgba(path: string, bits: 8 | 16): Promise<Straight> {
  await inspectPicture(path, basename(path));
  const deep = bits === 16;
  const { data, info } = await sharp(path, { failOn: 'error' })
    .toColourspace(deep ? 'rgb16' : 'srgb')
    .ensureAlpha()
    .raw({ depth: deep ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true });
  return pixelsOf(data, info, bits);
}
