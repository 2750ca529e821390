import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { XMLParser } from 'fast-xml-parser';
import sharp from 'sharp';
import { z } from 'zod';
import { premultiply, unpremultiply } from '@/core/raster/alpha';
import { cropPicture } from '@/core/raster/crop';
import { drawnPlates } from '@/core/shot/document';
import { layOutPlates } from '@/core/shot/layOut';
import { coveredRect, platePicture } from '@/core/shot/plates';
import { Problem } from '../http/problem';
import type { PlatesOfShot } from './writePlates';
import { writePicture } from './writePicture';
import { copyPicture, isDeep, type Picture } from '@/core/raster/picture';

// OpenRaster 0.0.6 (freedesktop.org, "OpenRaster file layout specification"): a zip whose first entry `mimetype` is stored, with
// stack.xml, data/*.png, mergedimage.png and Thumbnails/thumbnail.png.

export const ORA_MIME = 'image/openraster';

/** A layer of an OpenRaster file, nearest first, as its stack lists them. */
export interface OraLayer {
  readonly name: string;
  readonly src: string;
  readonly x: number;
  readonly y: number;
  readonly visible: boolean;
}

/**
 * Writes a shot's plates as the files of an OpenRaster, and says in which order they belong into the zip. The lowest layer is the
 * back plate with its fill; the others are trimmed.
 */
export async function writeOpenRaster(
  dir: string,
  { document, source, depth, plates, back: backFill }: PlatesOfShot,
): Promise<{ name: string; from: string; compress?: boolean }[]> {
  await mkdir(join(dir, 'data'), { recursive: true });
  await mkdir(join(dir, 'Thumbnails'), { recursive: true });
  const format = isDeep(source) ? 'png16' : 'png';
  const layers: OraLayer[] = [];
  const { hasAlpha } = document.source;
  const { picture: back } = layOutPlates(premultiply(copyPicture(source), hasAlpha), depth, plates, backFill);
  await writePicture(join(dir, 'data/00.png'), unpremultiply(back, hasAlpha), format, { alpha: true });
  layers.push({ name: 'Back plate', src: 'data/00.png', x: 0, y: 0, visible: true });
  for (const [n, plate] of drawnPlates(document.plates.map((p) => ({ ...p, hidden: false }))).entries()) {
    const pixels = plates.find((p) => p.id === plate.id);
    const rect = pixels && coveredRect(pixels.matte);
    if (!rect) continue;
    const src = `data/${String(n + 1).padStart(2, '0')}.png`;
    await writePicture(join(dir, src), cropPicture(platePicture(source, pixels), rect), format, { alpha: true });
    layers.push({
      name: plate.name,
      src,
      x: rect.left,
      y: rect.top,
      visible: !document.plates.find((p) => p.id === plate.id)!.hidden,
    });
  }
  // What a reader shows that knows nothing of layers: all visible ones over each other.
  const merged = await flatten(dir, layers, source);
  await writeFile(join(dir, 'mergedimage.png'), merged);
  await writeFile(
    join(dir, 'Thumbnails/thumbnail.png'),
    await sharp(merged).resize(256, 256, { fit: 'inside', withoutEnlargement: true }).png().toBuffer(),
  );
  await writeFile(join(dir, 'mimetype'), ORA_MIME);
  await writeFile(join(dir, 'stack.xml'), stackXml(source, [...layers].reverse()));
  return [
    { name: 'mimetype', from: 'mimetype' },
    { name: 'stack.xml', from: 'stack.xml', compress: true },
    ...layers.map((l) => ({ name: l.src, from: l.src })),
    { name: 'mergedimage.png', from: 'mergedimage.png' },
    { name: 'Thumbnails/thumbnail.png', from: 'Thumbnails/thumbnail.png' },
  ];
}

async function flatten(dir: string, layers: readonly OraLayer[], { width, height }: Picture): Promise<Buffer> {
  return sharp({ create: { width, height, channels: 4, background: '#00000000' }, limitInputPixels: false })
    .composite(
      layers
        .filter((l) => l.visible)
        .map((l) => ({ input: join(dir, l.src), left: l.x, top: l.y, limitInputPixels: false })),
    )
    .png()
    .toBuffer();
}

const escape = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

function stackXml({ width, height }: { width: number; height: number }, layers: readonly OraLayer[]): string {
  const rows = layers.map(
    (l) =>
      `    <layer name="${escape(l.name)}" src="${l.src}" x="${l.x}" y="${l.y}" opacity="1.0" ` +
      `visibility="${l.visible ? 'visible' : 'hidden'}" composite-op="svg:src-over"/>`,
  );
  return (
    `<?xml version="1.0" encoding="UTF-8"?>\n<image version="0.0.6" w="${width}" h="${height}">\n` +
    `  <stack>\n${rows.join('\n')}\n  </stack>\n</image>\n`
  );
}

const whole = z.coerce.number().int().min(-100_000).max(100_000);
const layerSchema = z.object({
  '@name': z.string().default(''),
  '@src': z
    .string()
    .regex(/^[^/\\.][^\\]*\.png$/i, 'names no PNG inside the file')
    .refine((s) => !s.includes('..'), 'leads out of the file'),
  '@x': whole.default(0),
  '@y': whole.default(0),
  '@visibility': z.string().default('visible'),
});

/**
 * The layers of an unpacked OpenRaster, nearest first; layers in nested stacks move with their stack.
 * @throws Problem `bad-openraster`
 */
export async function readOpenRaster(
  dir: string,
  fileName: string,
): Promise<{ width: number; height: number; layers: OraLayer[] }> {
  const bad = (why: string): Problem =>
    new Problem(422, 'bad-openraster', `${fileName} cannot be read as OpenRaster: ${why}. Save it again.`);
  const text = await readFile(join(dir, 'stack.xml'), 'utf8').catch(() => {
    throw bad('it holds no stack.xml');
  });
  let tree: Node[];
  try {
    tree = new XMLParser({
      preserveOrder: true,
      ignoreAttributes: false,
      attributeNamePrefix: '@',
      processEntities: { enabled: true, maxTotalExpansions: 10_000 },
      htmlEntities: true,
    }).parse(text, true) as Node[];
  } catch (error) {
    throw bad(`its stack.xml is damaged (${(error as Error).message})`);
  }
  const image = tree.find((n) => 'image' in n);
  const size = z
    .object({ '@w': z.coerce.number().int().positive(), '@h': z.coerce.number().int().positive() })
    .safeParse(image?.[':@'] ?? {});
  if (!image || !size.success) throw bad('its stack.xml does not say how large it is');
  const layers: OraLayer[] = [];
  const walk = (nodes: readonly Node[], x: number, y: number, visible: boolean): void => {
    for (const node of nodes) {
      const marks = node[':@'] ?? {};
      if ('stack' in node)
        walk(
          node.stack ?? [],
          x + Number(marks['@x'] ?? 0),
          y + Number(marks['@y'] ?? 0),
          visible && marks['@visibility'] !== 'hidden',
        );
      else if ('layer' in node) {
        const layer = layerSchema.safeParse(marks);
        if (!layer.success) throw bad(`a layer ${layer.error.issues[0].message}`);
        layers.push({
          name: layer.data['@name'].trim().slice(0, 60) || `Layer ${layers.length + 1}`,
          src: layer.data['@src'],
          x: x + layer.data['@x'],
          y: y + layer.data['@y'],
          visible: visible && layer.data['@visibility'] !== 'hidden',
        });
      }
    }
  };
  walk(image.image ?? [], 0, 0, true);
  if (layers.length === 0) throw bad('it holds no layer');
  return { width: size.data['@w'], height: size.data['@h'], layers };
}

interface Node {
  readonly [':@']?: Record<string, string>;
  readonly image?: Node[];
  readonly stack?: Node[];
  readonly layer?: Node[];
}
