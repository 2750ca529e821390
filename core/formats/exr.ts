import { CoreError } from '../error';
import type { FloatPlane } from './floatPlane';

const MAGIC = 20000630;
/** Flags of the version that mean another kind of file than one picture in scanlines. */
const TILED = 0x200;
const DEEP = 0x800;
const MULTIPART = 0x1000;
/** Channels that may hold depth, the likeliest first. */
const DEPTH_CHANNELS = ['Z', 'Y', 'R'];

export interface ExrHeader {
  readonly width: number;
  readonly height: number;
  /** Names of its channels, in the order of the file. */
  readonly channels: readonly string[];
  /** Where each channel's name stands, bytes. */
  readonly names: readonly number[];
}

/**
 * The header of an OpenEXR file: its size and channels, read before anything is decoded.
 * Source: "OpenEXR file layout" of the OpenEXR documentation.
 * @throws CoreError `not-exr`, `unsupported-exr`
 */
export function exrHeader(bytes: Uint8Array): ExrHeader {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 8 || view.getUint32(0, true) !== MAGIC)
    throw new CoreError('not-exr', 'It does not begin as an OpenEXR file does.');
  if (view.getUint32(4, true) & (TILED | DEEP | MULTIPART))
    throw new CoreError(
      'unsupported-exr',
      'It holds tiles, several parts or deep pixels. Write it as one flat picture in scanlines.',
    );
  let at = 8;
  const word = (): string => {
    const end = bytes.indexOf(0, at);
    if (end < 0) throw new CoreError('cut-off', 'Its header is cut off or damaged.');
    const text = String.fromCharCode(...bytes.subarray(at, end));
    at = end + 1;
    return text;
  };
  const channels: string[] = [];
  const names: number[] = [];
  let size: { width: number; height: number } | undefined;
  try {
    for (let name = word(); name !== ''; name = word()) {
      word();
      const end = at + 4 + view.getUint32(at, true);
      at += 4;
      if (name === 'channels')
        while (bytes[at] !== 0) {
          names.push(at);
          channels.push(word());
          at += 16;
        }
      if (name === 'dataWindow')
        size = {
          width: view.getInt32(at + 8, true) - view.getInt32(at, true) + 1,
          height: view.getInt32(at + 12, true) - view.getInt32(at + 4, true) + 1,
        };
      at = end;
    }
  } catch (error) {
    if (error instanceof CoreError) throw error;
    throw new CoreError('cut-off', 'Its header is cut off or damaged.');
  }
  if (!size || size.width < 1 || size.height < 1 || channels.length === 0)
    throw new CoreError('not-exr', 'Its header names neither a size nor channels.');
  return { ...size, channels, names };
}

/** The channel that holds depth. @throws CoreError `no-depth-channel` with what there is */
export function depthChannel({ channels }: ExrHeader): string {
  const found = DEPTH_CHANNELS.find((name) => channels.includes(name));
  if (found) return found;
  throw new CoreError(
    'no-depth-channel',
    `Its channels are ${channels.join(', ')}; depth is looked for in ${DEPTH_CHANNELS.join(', ')}. Write it into one of these.`,
  );
}

/** An OpenEXR file of one channel of 32-bit floats (Y), in scanlines, not packed. @param comments what its values mean */
export function encodeExr({ width, height, data }: FloatPlane, comments: string): Uint8Array {
  const parts: number[] = [];
  const text = (s: string): void => {
    for (const c of s) parts.push(c.charCodeAt(0) & 255);
    parts.push(0);
  };
  const ints = (...values: number[]): void => {
    for (const v of values) parts.push(v & 255, (v >> 8) & 255, (v >> 16) & 255, (v >> 24) & 255);
  };
  const floats = (...values: number[]): void => {
    for (const v of values) parts.push(...new Uint8Array(Float32Array.of(v).buffer));
  };
  const attribute = (name: string, type: string, size: number): void => {
    text(name);
    text(type);
    ints(size);
  };
  ints(MAGIC, 2);
  attribute('channels', 'chlist', 19);
  text('Y');
  ints(2, 0, 1, 1);
  parts.push(0);
  attribute('comments', 'string', comments.length);
  for (const c of comments) parts.push(c.charCodeAt(0) & 127);
  attribute('compression', 'compression', 1);
  parts.push(0);
  for (const name of ['dataWindow', 'displayWindow']) {
    attribute(name, 'box2i', 16);
    ints(0, 0, width - 1, height - 1);
  }
  attribute('lineOrder', 'lineOrder', 1);
  parts.push(0);
  attribute('pixelAspectRatio', 'float', 4);
  floats(1);
  attribute('screenWindowCenter', 'v2f', 8);
  floats(0, 0);
  attribute('screenWindowWidth', 'float', 4);
  floats(1);
  parts.push(0);
  const begin = parts.length;
  const row = 8 + width * 4;
  const out = new Uint8Array(begin + height * 8 + height * row);
  out.set(parts);
  const view = new DataView(out.buffer);
  for (let y = 0; y < height; y++) {
    const at = begin + height * 8 + y * row;
    view.setBigUint64(begin + y * 8, BigInt(at), true);
    view.setInt32(at, y, true);
    view.setInt32(at + 4, width * 4, true);
    for (let x = 0; x < width; x++) view.setFloat32(at + 8 + x * 4, data[y * width + x], true);
  }
  return out;
}
