import { open, readFile, stat } from 'node:fs/promises';
import parseExr from 'parse-exr';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import { depthChannel, exrHeader } from '@/core/formats/exr';
import type { FloatPlane } from '@/core/formats/floatPlane';
import { decodePfm, pfmHeader } from '@/core/formats/pfm';
import { LIMITS } from '../config';
import { Problem } from '../http/problem';

/** So much of a file is looked at to tell what it is, bytes. */
const HEAD = 1 << 16;
/** How parse-exr is asked for 32-bit floats, and what it answers for one channel. */
const FLOAT = 1015;
const ONE_CHANNEL = 1028;

/**
 * The one channel of a file of 32-bit floats: OpenEXR, portable float map, or TIFF. Sizes are read from headers
 * before anything is
 * decoded. @returns undefined where it is a file of another kind
 * @throws Problem `too-many-pixels`, `cut-off`, and what is wrong with its format
 */
export async function readFloatFile(path: string, fileName: string): Promise<FloatPlane | undefined> {
  const head = await headOf(path);
  const read = readerOf(head);
  if (!read) return undefined;
  try {
    return await read(path, head, fileName);
  } catch (error) {
    if (error instanceof CoreError) throw new Problem(422, error.code, `${fileName} cannot be read. ${error.message}`);
    if (error instanceof Problem) throw error;
    throw new Problem(422, 'cut-off', `${fileName} cannot be read to its end: it is cut off or damaged.`);
  }
}

/** True for the first bytes of an OpenEXR file or a portable float map. */
export const isFloatFile = (head: Uint8Array): boolean => {
  const read = readerOf(head);
  return read === readExr || read === readPfm;
};

type Reader = (path: string, head: Uint8Array, fileName: string) => Promise<FloatPlane | undefined>;

function readerOf(head: Uint8Array): Reader | undefined {
  const begins = (...bytes: number[]): boolean => bytes.every((b, n) => head[n] === b);
  if (begins(0x76, 0x2f, 0x31, 0x01)) return readExr;
  if (begins(0x50, 0x66) || begins(0x50, 0x46)) return readPfm;
  if (begins(0x49, 0x49) || begins(0x4d, 0x4d)) return readTiff;
  return undefined;
}

async function headOf(path: string): Promise<Uint8Array> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD), 0, HEAD, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

function requireFew({ width, height }: { readonly width: number; readonly height: number }, fileName: string): void {
  if (width * height > LIMITS.pixels)
    throw new Problem(
      422,
      'too-many-pixels',
      `${fileName} has ${width} × ${height} px; at most ${LIMITS.pixels / 1e6} megapixels can be worked on. Scale it down and bring it in again.`,
    );
}

const readPfm: Reader = async (path, head, fileName) => {
  const header = pfmHeader(head);
  requireFew(header, fileName);
  const { size } = await stat(path);
  if (size < header.begin + header.width * header.height * header.channels * 4)
    throw new CoreError('cut-off', 'It ends before its last pixel: it is cut off or damaged.');
  return decodePfm(await readFile(path));
};

const readExr: Reader = async (path, head, fileName) => {
  const header = exrHeader(head);
  requireFew(header, fileName);
  const wanted = depthChannel(header);
  const bytes = new Uint8Array(await readFile(path));
  // The reader knows Y for a single channel: the one that holds depth is called so, and no other one by a name that
  // it knows.
  header.channels.forEach((name, n) => {
    if (name.length === 1) bytes[header.names[n]] = (name === wanted ? 'Y' : 'x').charCodeAt(0);
  });
  const { data, format, width, height } = parseExr(bytes.buffer, FLOAT);
  if (format !== ONE_CHANNEL) throw new CoreError('unsupported-exr', 'Its depth is no channel of its own.');
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++) out.set(data.subarray((height - 1 - y) * width, (height - y) * width), y * width);
  return { width, height, data: out };
};

const readTiff: Reader = async (path, _head, fileName) => {
  const header = await sharp(path, { limitInputPixels: false, failOn: 'none' })
    .metadata()
    .catch(() => undefined);
  if (header?.depth !== 'float' && header?.depth !== 'double') return undefined;
  requireFew(header, fileName);
  const { data, info } = await sharp(path, { failOn: 'error', limitInputPixels: false })
    .raw({ depth: 'float' })
    .toBuffer({ resolveWithObject: true });
  const values = new Float32Array(data.buffer, data.byteOffset, data.length / 4);
  const out = new Float32Array(info.width * info.height);
  for (let i = 0; i < out.length; i++) out[i] = values[i * info.channels];
  return { width: info.width, height: info.height, data: out };
};
