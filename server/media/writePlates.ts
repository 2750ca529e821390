import type { CutPlate, Painted, PlateRaster } from '@/core/shot/rasters';
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Choice } from '@/core/matte/choice';
import { premultiply, unpremultiply } from '@/core/raster/alpha';
import { cropPicture, cropPlane } from '@/core/raster/crop';
import {
  copyPicture,
  emptyPicture,
  isDeep,
  type DepthMap,
  type Premultiplied,
  type Straight,
} from '@/core/raster/picture';
import { drawnPlates, type ShotDocument } from '@/core/shot/document';
import { layOutPlates, type BackPlate } from '@/core/shot/layOut';
import { paintOn } from '@/core/shot/paintOn';
import { coveredRect, platePicture } from '@/core/shot/plates';
import { depthToPng } from './depthFile';
import type { PlateList } from './plateList';
import type { PictureFormat } from '@/core/recipes';
import { writeMatte, writePicture } from './writePicture';

/** Room left around a trimmed plate, px: its depth goes on beyond its edge. */
const TRIM_ROOM = 8;

/** A shot whole: what its plates are made of. */
export interface PlatesOfShot {
  readonly name: string;
  readonly document: ShotDocument;
  /** Straight alpha, as it came. */
  readonly source: Straight;
  readonly depth: DepthMap;
  readonly plates: readonly CutPlate[];
  readonly back: BackPlate;
  /** How plates were chosen, where that is known. */
  readonly choices: ReadonlyMap<string, Choice>;
}

/**
 * Writes a shot's plates into a folder.
 * @param options trimmed: each plate's files hold only what it covers, and plates.json says where that lies
 */
export async function writePlates(dir: string, shot: PlatesOfShot, options: { trimmed?: boolean } = {}): Promise<void> {
  const { document, source } = shot;
  await mkdir(dir, { recursive: true });
  const format = isDeep(source) ? 'png16' : 'png';
  const { hasAlpha } = document.source;
  const laid = layOutPlates(premultiply(copyPicture(source), hasAlpha), shot.depth, shot.plates, shot.back);
  const list: PlateList = {
    version: 1,
    shot: shot.name,
    width: source.width,
    height: source.height,
    sourceEye: document.sourceEye,
    tearPx: document.tearPx,
    plates: [],
  };
  const { overpaint } = shot.back;
  let backPicture = source;
  if (overpaint) {
    const painted = premultiply(copyPicture(source), hasAlpha);
    paintOn(painted, { overpaint });
    backPicture = unpremultiply(painted, hasAlpha);
  }
  await writePicture(join(dir, '00-back-plate-picture.png'), backPicture, format, { alpha: hasAlpha });
  await writeFile(join(dir, '00-back-plate-depth.png'), await depthToPng(shot.depth));
  if (laid.hole) {
    const fill = unpremultiply(copyPicture(laid.picture), hasAlpha);
    const most = isDeep(fill) ? 65535 : 255;
    for (let i = 0; i < laid.hole.data.length; i++)
      if (laid.hole.data[i]) fill.data[i * 4 + 3] = most;
      else fill.data.fill(0, i * 4, i * 4 + 4);
    await writePicture(join(dir, '00-back-plate-fill.png'), fill, format, { alpha: true });
    await writeFile(join(dir, '00-back-plate-fill-depth.png'), await depthToPng(laid.depth));
  }
  // What people filled in and painted, apart from what goes on by itself, so that it can be brought back.
  const { behind: painted } = shot.back;
  if (painted) await writeFile(join(dir, '00-back-plate-behind.png'), await depthToPng(painted));
  list.plates.push({
    name: 'Back plate',
    picture: '00-back-plate-picture.png',
    matte: null,
    depth: '00-back-plate-depth.png',
    fill: laid.hole ? '00-back-plate-fill.png' : null,
    fillDepth: laid.hole ? '00-back-plate-fill-depth.png' : null,
    ...(await writePainted(dir, '00-back-plate', shot.back, format)),
    behind: painted ? '00-back-plate-behind.png' : null,
    near: document.depth.near,
    far: document.depth.far,
    hidden: false,
    locked: false,
    group: null,
    left: 0,
    top: 0,
    choice: null,
  });
  const cut = document.plates.filter((p) => shot.plates.some((c) => c.id === p.id));
  for (const [
    n,
    {
      id,
      name,
      depth: { near, far },
    },
  ] of drawnPlates(cut.map((p) => ({ ...p, hidden: false }))).entries()) {
    const pixels = shot.plates.find((c) => c.id === id)!;
    const plate = document.plates.find((p) => p.id === id)!;
    const stem = `${String(n + 1).padStart(2, '0')}-${fileStem(name)}`;
    const rect = (options.trimmed && coveredRect(pixels.matte, TRIM_ROOM)) || {
      left: 0,
      top: 0,
      right: source.width,
      bottom: source.height,
    };
    await writePicture(join(dir, `${stem}-picture.png`), cropPicture(platePicture(source, pixels), rect), format, {
      alpha: true,
    });
    await writeMatte(join(dir, `${stem}-matte.png`), cropPlane(pixels.matte, rect));
    await writeFile(join(dir, `${stem}-depth.png`), await depthToPng(cropPlane(pixels.depth, rect)));
    const behind =
      laid.plates.find((p) => p.id === id)?.hidden &&
      hiddenPicture(
        laid.plates.find((p) => p.id === id)!,
        source,
      );
    if (behind) await writePicture(join(dir, `${stem}-fill.png`), behind, format, { alpha: true });
    list.plates.push({
      name,
      picture: `${stem}-picture.png`,
      matte: `${stem}-matte.png`,
      depth: `${stem}-depth.png`,
      fill: behind ? `${stem}-fill.png` : null,
      fillDepth: null,
      ...(await writePainted(dir, stem, pixels, format)),
      behind: null,
      near,
      far,
      hidden: plate.hidden,
      locked: plate.locked,
      group: plate.group,
      left: rect.left,
      top: rect.top,
      choice: (plate.piece ? undefined : shot.choices.get(id)) ?? null,
    });
  }
  await writeFile(join(dir, 'plates.json'), `${JSON.stringify(list, null, 2)}\n`);
}

/** Writes what was filled in and painted over a plate, and says under which names. */
async function writePainted(
  dir: string,
  stem: string,
  painted: Painted,
  format: PictureFormat,
): Promise<{ filled: string | null; overpaint: string | null }> {
  const write = async (what: 'filled' | 'overpaint', picture: Straight | undefined): Promise<string | null> => {
    if (!picture) return null;
    await writePicture(join(dir, `${stem}-${what}.png`), picture, format, { alpha: true });
    return `${stem}-${what}.png`;
  };
  return { filled: await write('filled', painted.fill), overpaint: await write('overpaint', painted.overpaint) };
}

/** What a plate shows where nearer ones hide it in the source, over the whole canvas. */
function hiddenPicture({ top, picture, hidden }: PlateRaster<Premultiplied>, source: Straight): Straight {
  const out = emptyPicture(picture, source.width, source.height);
  const from = top * source.width;
  for (let i = 0; i < hidden!.data.length; i++)
    if (hidden!.data[i]) out.data.set(picture.data.subarray(i * 4, i * 4 + 4), (from + i) * 4);
  return unpremultiply(out);
}

/** A name as part of a file's name: small letters, figures and hyphens. */
export function fileStem(name: string): string {
  return (
    name
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-+|-+$/g, '') || 'plate'
  );
}
