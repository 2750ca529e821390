import { writeFile } from 'node:fs/promises';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import type { DepthMap } from '@/core/raster/picture';
import {
  depthFloats,
  depthOfFloats,
  distancesOf,
  meaningSentence,
  type DistanceRange,
  type FloatMeaning,
} from '@/core/depth/distance';
import { encodeExr } from '@/core/formats/exr';
import type { FloatPlane } from '@/core/formats/floatPlane';
import { encodePfm } from '@/core/formats/pfm';
import { encodeTiff } from '@/core/formats/tiff';
import { resizeDepth } from '@/core/raster/resizeDepth';
import { ditherToEightBits } from '@/core/depth/ditherToEightBits';
import { mendDepth, type Mended } from '@/core/depth/mendDepth';
import { Problem } from '../http/problem';
import { readFloatFile } from './floatFile';
import { inspectPicture } from './inspect';

export interface DepthImport {
  /** False: black is near, and values are turned round. */
  readonly whiteIsNear: boolean;
  /**
   * Mend what maps often lack: terraces of 8 bits (also in the guise of 16) are smoothed, softened edges made sharp,
   * and places
   * that say nothing filled from the farther side.
   */
  readonly mend: boolean;
  /** What the numbers are of a file that holds floats (OpenEXR, portable float map, TIFF). @default depth of 0 to 1 */
  readonly floats?: FloatMeaning;
  /** Is told what it lacked. */
  onMended?(mended: Mended): void;
}

/** Depth of a file: of floats by what they mean, else as it is stored over the whole 16-bit range. */
export async function readDepthFile(path: string, fileName: string, options: DepthImport): Promise<DepthMap> {
  const plane = await readFloatFile(path, fileName);
  let map = plane ? floatsAsDepth(plane, options.floats, fileName) : await readStored(path, fileName);
  if (options.mend) {
    const { map: whole, mended } = mendDepth(map, options.whiteIsNear);
    map = whole;
    options.onMended?.(mended);
  }
  if (!options.whiteIsNear) for (let i = 0; i < map.data.length; i++) map.data[i] = 65535 - map.data[i];
  return map;
}

/** @throws Problem `not-depth`, `bad-range` */
function floatsAsDepth(plane: FloatPlane, meaning: FloatMeaning = { kind: 'depth' }, fileName: string): DepthMap {
  try {
    return depthOfFloats(plane, meaning);
  } catch (error) {
    if (error instanceof CoreError) throw new Problem(422, error.code, `${fileName} was not taken. ${error.message}`);
    throw error;
  }
}

/**
 * Values of a grey (or colour: its red, green and blue must not differ much) picture as they are stored, over the
 * whole 16-bit range.
 */
async function readStored(path: string, fileName: string): Promise<DepthMap> {
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
  const map: DepthMap = { width: info.width, height: info.height, data: new Uint16Array(n) };
  if (header.bits === 16) map.data.set(new Uint16Array(data.buffer, data.byteOffset, n));
  else for (let i = 0; i < n; i++) map.data[i] = data[i] * 257;
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

/** How depth leaves the house. */
export const DEPTH_FORMATS = ['png', 'png8', 'tif', 'tif32', 'exr', 'pfm'] as const;
export type DepthFormat = (typeof DEPTH_FORMATS)[number];
export const DEPTH_ENDINGS: Record<DepthFormat, string> = {
  ...{ png: 'png', png8: 'png', tif: 'tif', tif32: 'tif', exr: 'exr', pfm: 'pfm' },
};

/**
 * A depth map as a file that says, where its format can, what its values mean. Floats are depth of 0 to 1, or, with a
 * range, distances; whole
 * numbers are always depth.
 * @throws CoreError `bad-range`
 */
export async function depthFileOf(map: DepthMap, format: DepthFormat, range?: DistanceRange): Promise<Uint8Array> {
  const { width, height } = map;
  const floats = (): FloatPlane => (range ? distancesOf(map, range) : depthFloats(map));
  switch (format) {
    case 'exr':
      return encodeExr(floats(), meaningSentence(range));
    case 'pfm':
      return encodePfm(floats());
    case 'tif32':
      return encodeTiff(floats(), meaningSentence(range));
    case 'tif':
      return encodeTiff(map, meaningSentence(undefined));
    default: {
      const deep = format !== 'png8';
      return sharp(deep ? map.data : ditherToEightBits(map), {
        raw: { width, height, channels: 1 },
        limitInputPixels: false,
      })
        .toColourspace(deep ? 'grey16' : 'b-w')
        .withExif({ IFD0: { ImageDescription: meaningSentence(undefined) } })
        .png({ compressionLevel: 6 })
        .toBuffer();
    }
  }
}

/** Writes a depth map as 16-bit grey PNG, values as they are. */
export const depthToPng = async (map: DepthMap): Promise<Buffer> => Buffer.from(await depthFileOf(map, 'png'));

/** Writes a depth map as a file, by its name's ending. @throws CoreError `unknown-format`, `bad-range` */
export async function writeDepthFile(path: string, map: DepthMap, range?: DistanceRange): Promise<void> {
  const ending = /\.(png|tiff?|exr|pfm)$/i.exec(path)?.[1].toLowerCase();
  if (!ending)
    throw new CoreError('unknown-format', `${path}: the name of a depth file must end in .png, .tif, .exr or .pfm.`);
  const tiff: DepthFormat = range ? 'tif32' : 'tif';
  const format = ending.startsWith('tif') ? tiff : (ending as 'png' | 'exr' | 'pfm');
  await writeFile(path, await depthFileOf(map, format, range));
}
