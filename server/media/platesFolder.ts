import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import { z } from 'zod';
import { CoreError } from '@/core/error';
import { premultiply } from '@/core/raster/alpha';
import { isDeep, type DepthMap, type Mask, type Picture } from '@/core/raster/picture';
import { drawnPlates, type ShotDocument } from '@/core/shot/document';
import { cleanColours, layOutPlates, liftPlate, type CutPlate, type ShotRasters } from '@/core/shot/plates';
import { depthToPng, readDepthFile } from './depthFile';
import { inspectPicture } from './inspect';
import { writeMatte, writePicture } from './writePicture';

const fileName = z.string().regex(/^[^/\\]+\.png$/, 'must be the name of a PNG file in the same folder');

/** plates.json: the plates of a shot from far to near, the back plate first. Described in docs/formats.md. */
const listSchema = z.object({
  version: z.literal(1),
  shot: z.string(),
  width: z.number().int().positive(),
  height: z.number().int().positive(),
  sourceEye: z.enum(['left', 'centre', 'right']),
  tearPx: z.number().min(0),
  plates: z.array(z.object({
    name: z.string(), picture: fileName, matte: fileName.nullable(), depth: fileName, fill: fileName.nullable(), near: z.number().min(0).max(1), far: z.number().min(0).max(1), hidden: z.boolean(),
  })).min(1),
});
export type PlateList = z.infer<typeof listSchema>;

/** Writes a shot's plates into a folder. @param source straight alpha, as it came */
export async function writePlates(dir: string, shot: { name: string; document: ShotDocument; source: Picture; depth: DepthMap; plates: readonly CutPlate[] }): Promise<void> {
  const { document, source } = shot;
  await mkdir(dir, { recursive: true });
  const format = isDeep(source) ? 'png16' : 'png';
  const laid = layOutPlates({ ...source, data: source.data.slice() } as Picture, shot.depth, shot.plates);
  const list: PlateList = { version: 1, shot: shot.name, width: source.width, height: source.height, sourceEye: document.sourceEye, tearPx: document.tearPx, plates: [] };
  await writePicture(join(dir, '00-back-plate-picture.png'), source, format, { alpha: document.source.hasAlpha });
  await writeFile(join(dir, '00-back-plate-depth.png'), await depthToPng(laid.depth));
  if (laid.hole) {
    const fill = { ...laid.picture, data: laid.picture.data.slice() } as Picture, most = isDeep(fill) ? 65535 : 255;
    for (let i = 0; i < laid.hole.data.length; i++) if (laid.hole.data[i]) fill.data[i * 4 + 3] = most; else fill.data.fill(0, i * 4, i * 4 + 4);
    await writePicture(join(dir, '00-back-plate-fill.png'), fill, format, { alpha: true });
  }
  list.plates.push({ name: 'Back plate', picture: '00-back-plate-picture.png', matte: null, depth: '00-back-plate-depth.png', fill: laid.hole ? '00-back-plate-fill.png' : null, near: document.depth.near, far: document.depth.far, hidden: false });
  const cut = document.plates.filter((p) => shot.plates.some((c) => c.id === p.id));
  const ordered = [...drawnPlates(cut.map((p) => ({ ...p, hidden: false })))];
  for (const [n, { id, name, depth }] of ordered.entries()) {
    const { matte, depth: map } = shot.plates.find((c) => c.id === id)!;
    const stem = `${String(n + 1).padStart(2, '0')}-${name.toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-+|-+$/g, '') || 'plate'}`;
    const own = cleanColours(source, matte), picture = { ...own, data: own.data.slice() } as Picture;
    for (let i = 0; i < matte.data.length; i++) {
      picture.data[i * 4 + 3] = Math.round((picture.data[i * 4 + 3] * matte.data[i]) / 255);
      // What does not show is left out of the file.
      if (picture.data[i * 4 + 3] === 0) picture.data.fill(0, i * 4, i * 4 + 3);
    }
    await writePicture(join(dir, `${stem}-picture.png`), picture, format, { alpha: true });
    await writeMatte(join(dir, `${stem}-matte.png`), matte);
    await writeFile(join(dir, `${stem}-depth.png`), await depthToPng(map));
    list.plates.push({ name, picture: `${stem}-picture.png`, matte: `${stem}-matte.png`, depth: `${stem}-depth.png`, fill: null, near: depth.near, far: depth.far, hidden: document.plates.find((p) => p.id === id)!.hidden });
  }
  await writeFile(join(dir, 'plates.json'), `${JSON.stringify(list, null, 2)}\n`);
}

/** A folder of plates as rasters to render from, and the list that says how. Nothing in it may leave the folder. */
export async function readPlates(dir: string): Promise<{ list: PlateList; rasters: ShotRasters<Picture>; ids: readonly string[]; bits: 8 | 16; hasAlpha: boolean }> {
  const path = join(dir, 'plates.json');
  const parsed = listSchema.safeParse(JSON.parse(await readFile(path, 'utf8').catch(() => { throw new CoreError('no-plates', `${path} does not exist. The folder must be one that 'cork-twin plates' has written.`); })));
  if (!parsed.success) throw new CoreError('bad-plates', `${path} cannot be read: ${parsed.error.issues[0].path.join('.')} ${parsed.error.issues[0].message}.`);
  const list = parsed.data, { width, height } = list;
  const sized = <T extends { width: number; height: number }>(what: T, name: string): T => {
    if (what.width !== width || what.height !== height) throw new CoreError('size-differs', `${name} is ${what.width} × ${what.height} px but plates.json says ${width} × ${height} px.`);
    return what;
  };
  const [back, ...others] = list.plates;
  const header = await inspectPicture(join(dir, back.picture), back.picture);
  const picture = async (name: string): Promise<Picture> => sized(await readRgba(join(dir, name), header.bits), name);
  const depth = async (name: string): Promise<DepthMap> => sized(await readDepthFile(join(dir, name), basename(name), { whiteIsNear: true, smooth: false }), name);
  const ground = await picture(back.picture);
  if (header.hasAlpha) premultiply(ground);
  if (back.fill !== null) {
    const fill = await picture(back.fill);
    for (let i = 0; i < fill.data.length; i += 4) if (fill.data[i + 3] > 0) for (let c = i; c < i + 4; c++) ground.data[c] = fill.data[c];
  }
  const ids: string[] = [], plates = [];
  for (const [n, plate] of others.entries()) {
    const id = `00000000-0000-4000-8000-${String(n + 1).padStart(12, '0')}`;
    const own = await picture(plate.picture), matte: Mask = { width, height, data: new Uint8Array(width * height) };
    const most = isDeep(own) ? 65535 : 255;
    for (let i = 0; i < matte.data.length; i++) { matte.data[i] = Math.round((own.data[i * 4 + 3] * 255) / most); own.data[i * 4 + 3] = most; }
    ids.push(id);
    plates.push(...liftPlate(own, { id, matte, depth: await depth(plate.depth) }, false));
  }
  return { list, rasters: { picture: ground, depth: await depth(back.depth), plates }, ids, bits: header.bits, hasAlpha: header.hasAlpha };
}

async function readRgba(path: string, bits: 8 | 16): Promise<Picture> {
  await inspectPicture(path, basename(path));
  const deep = bits === 16;
  const { data, info } = await sharp(path, { failOn: 'error' }).toColourspace(deep ? 'rgb16' : 'srgb').ensureAlpha().raw({ depth: deep ? 'ushort' : 'uchar' }).toBuffer({ resolveWithObject: true });
  const size = { width: info.width, height: info.height };
  return deep ? { ...size, data: new Uint16Array(data.buffer, data.byteOffset, data.length / 2) } : { ...size, data: new Uint8Array(data.buffer, data.byteOffset, data.length) };
}
