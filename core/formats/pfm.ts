import { CoreError } from '../error';
import type { FloatPlane } from './floatPlane';

/** Longest header that is looked at, bytes. */
const HEADER = 256;

/** What a portable float map says of itself before its pixels. */
export interface PfmHeader {
  readonly width: number;
  readonly height: number;
  readonly channels: 1 | 3;
  readonly littleEndian: boolean;
  /** Where the pixels begin. */
  readonly begin: number;
}

/**
 * The header of a portable float map: "Pf" (or "PF" for three channels), width and height, and a scale whose sign says the byte order.
 * Source: the format's description by P. Debevec, "PFM portable float map", as netpbm's manual of pfm gives it.
 * @throws CoreError `not-pfm`
 */
export function pfmHeader(bytes: Uint8Array): PfmHeader {
  const text = String.fromCharCode(...bytes.subarray(0, HEADER));
  const found = /^P([fF])\s+(\d+)\s+(\d+)\s+(-?[\d.]+(?:[eE][-+]?\d+)?)\s/.exec(text);
  if (!found || Number(found[4]) === 0)
    throw new CoreError('not-pfm', 'It does not begin as a portable float map does: Pf, width, height and scale.');
  return {
    width: Number(found[2]),
    height: Number(found[3]),
    channels: found[1] === 'F' ? 3 : 1,
    littleEndian: Number(found[4]) < 0,
    begin: found[0].length,
  };
}

/** The (first) channel of a portable float map, whose rows lie from below. @throws CoreError `not-pfm`, `cut-off` */
export function decodePfm(bytes: Uint8Array): FloatPlane {
  const { width, height, channels, littleEndian, begin } = pfmHeader(bytes);
  if (bytes.length < begin + width * height * channels * 4)
    throw new CoreError('cut-off', 'It ends before its last pixel: it is cut off or damaged.');
  const view = new DataView(bytes.buffer, bytes.byteOffset);
  const data = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0, from = begin + (height - 1 - y) * width * channels * 4; x < width; x++, from += channels * 4)
      data[y * width + x] = view.getFloat32(from, littleEndian);
  return { width, height, data };
}

/** A portable float map of one channel, little-endian. */
export function encodePfm({ width, height, data }: FloatPlane): Uint8Array {
  const header = Uint8Array.from(`Pf\n${width} ${height}\n-1.0\n`, (c) => c.charCodeAt(0));
  const out = new Uint8Array(header.length + data.length * 4);
  out.set(header);
  const view = new DataView(out.buffer);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      view.setFloat32(header.length + ((height - 1 - y) * width + x) * 4, data[y * width + x], true);
  return out;
}
