import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import type { DepthMap } from '@/core/raster/picture';
import { resizeDepth } from '@/core/depth/resizeDepth';
import { mendDepth, type Mended } from '@/core/depth/mendDepth';
import { Problem } from '../http/problem';
import { inspectPicture } from './inspect';

export interface DepthImport {
  /** False: black is near, and values are turned round. */
  readonly whiteIsNear: boolean;
  /**
   * Mend what maps often lack: terraces of 8 bits (also in the guise of 16) are smoothed, softened edges made sharp, and places
   * that say nothing filled from the farther side.
   */
  readonly mend: boolean;
  /** Is told what it lacked. */
  onMended?(mended: Mended): void;
}

/**
 * Values of a grey (or colour: its red, green and blue must not differ much) picture as they are stored, over the
 * whole 16-bit range.
 */
export async function readDepthFile(path: string, fileName: string, options: DepthImport): Promise<DepthMap> {
  const header = await inspectPicture(path, fileName);
  // Depth is numbers, not colour: no profile may bend them, so the stored values are taken as they are.
  const input = sharp(path, { failOn: 'error', ignoreIcc: true }).autoOrient();
  const first = header.hasAlpha ? input.removeAlpha() : input;
  const wide = header.bits === 16 ? first.pipelineColourspace('rgb16').toColourspace('rgb16') : first;
  const { data, info } = await wide
    .extractChannel(0)
    .raw({ depth: header.bits === 16 ? 'ushort' : 'uchar' })
    .toBuffer({ resolveWithObject: true })
    .catch(() => {
      throw new Problem(
        422,
        'cut-off',
        `${fileName} cannot be read to its end: it is cut off or damaged. Export or copy it again.`,
      );
    });
  const n = info.width * info.height;
  let map: DepthMap = { width: info.width, height: info.height, data: new Uint16Array(n) };
  if (header.bits === 16) map.data.set(new Uint16Array(data.buffer, data.byteOffset, n));
  else for (let i = 0; i < n; i++) map.data[i] = data[i] * 257;
  if (options.mend) {
    const { map: whole, mended } = mendDepth(map, options.whiteIsNear);
    map = whole;
    options.onMended?.(mended);
  }
  if (!options.whiteIsNear) for (let i = 0; i < n; i++) map.data[i] = 65535 - map.data[i];
  return map;
}

/** The map at a picture's size. @throws Problem `other-proportions` with both sizes named */
export function fitDepth(map: DepthMap, picture: { width: number; height: number }, fileName: string): DepthMap {
  // Proportions agree where rounding either side to whole pixels explains the difference.
  const off = Math.abs(map.width * picture.height - map.height * picture.width);
  if (off > Math.max(map.width, map.height, picture.width, picture.height)) {
    throw new Problem(
      422,
      'other-proportions',
      `${fileName} is ${map.width} × ${map.height} px but the picture is ${picture.width} × ${picture.height} px: their proportions differ. Bring in a depth picture of the same proportions; any size will do.`,
    );
  }
  return resizeDepth(map, picture);
}

/** Writes a depth map as 16-bit grey PNG, values as they are. */
export async function depthToPng(map: DepthMap): Promise<Buffer> {
  return sharp(map.data, { raw: { width: map.width, height: map.height, channels: 1 }, limitInputPixels: false })
    .toColourspace('grey16')
    .png({ compressionLevel: 6 })
    .toBuffer();
}

/** Writes a depth map as a file, by its name's ending. @throws CoreError `unknown-format` */
export async function writeDepthFile(path: string, map: DepthMap): Promise<void> {
  if (!/\.png$/i.test(path))
    throw new CoreError(
      'unknown-format',
      `${path}: depth is written as PNG of 16 bits, so the file's name must end in .png.`,
    );
  await writeFile(path, await depthToPng(map));
}
