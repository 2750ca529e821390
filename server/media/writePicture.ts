import sharp from 'sharp';
import type { PictureFormat } from '@/core/recipes';
import { narrowed, widened } from '@/core/raster/bits';
import { isDeep, sixteenBits, type Straight } from '@/core/raster/picture';
import { CoreError } from '@/core/error';

export const EXTENSIONS: Record<PictureFormat, string> = { png: 'png', png16: 'png', tiff: 'tif', jpeg: 'jpg' };
export const MIMES: Record<PictureFormat, string> = {
  png: 'image/png',
  png16: 'image/png',
  tiff: 'image/tiff',
  jpeg: 'image/jpeg',
};

export interface WriteOptions {
  /** Keep the alpha channel; JPEG has none and gets white behind. */
  readonly alpha: boolean;
  /** JPEG quality, 50 to 100. @default 92 */
  readonly quality?: number;
}

/**
 * Writes a picture file in sRGB, every value as it is. No profile is embedded: an untagged file means sRGB, and attaching one
 * sends 16-bit values through a conversion that changes them.
 */
export async function writePicture(
  path: string,
  picture: Straight,
  format: PictureFormat,
  options: WriteOptions,
): Promise<void> {
  const { width, height, data } = picture;
  if (format === 'jpeg' && Math.max(width, height) > 65535)
    throw new CoreError(
      'too-large',
      `JPEG ends at 65535 px a side and this picture is ${width} × ${height} px. Choose PNG or TIFF.`,
    );
  const deep = isDeep(picture);
  const wantDeep = format === 'png16' || (format === 'tiff' && deep);
  const changed = (): typeof data => (sixteenBits(data) ? narrowed(data) : widened(data));
  const bytes = deep === wantDeep ? data : changed();
  let image = sharp(bytes as Uint8Array, { raw: { width, height, channels: 4 }, limitInputPixels: false });
  if (format === 'jpeg') image = image.flatten({ background: '#ffffff' });
  else if (!options.alpha) image = image.removeAlpha();
  image = image.toColourspace(wantDeep ? 'rgb16' : 'srgb');
  if (format === 'jpeg') image = image.jpeg({ quality: options.quality ?? 92, chromaSubsampling: '4:4:4' });
  else if (format === 'tiff') image = image.tiff({ compression: 'deflate', predictor: 'horizontal' });
  else image = image.png({ compressionLevel: 6 });
  await image.toFile(path);
}

/**
 * Writes a matte as grey PNG of 8 or 16 bits, values as they are. @throws CoreError `unknown-format` for other names
 * than .png
 */
export async function writeMatte(
  path: string,
  matte: { readonly width: number; readonly height: number; readonly data: Uint8Array | Uint16Array },
): Promise<void> {
  if (!/\.png$/i.test(path))
    throw new CoreError('unknown-format', `${path}: a matte is written as PNG, so the file's name must end in .png.`);
  const { width, height, data } = matte;
  await sharp(data as Uint8Array, { raw: { width, height, channels: 1 }, limitInputPixels: false })
    .toColourspace(sixteenBits(data) ? 'grey16' : 'b-w')
    .png({ compressionLevel: 6 })
    .toFile(path);
}
