import { open, stat } from 'node:fs/promises';
import sharp from 'sharp';
import { LIMITS } from '../config';
import { Problem } from '../http/problem';
import { focalLengthOf } from './focalLength';

/** What the header of a picture file says; nothing is decoded for it. */
export interface PictureHeader {
  readonly format: 'png' | 'jpeg' | 'webp' | 'avif' | 'tiff';
  /** Size after the orientation is applied, px. */
  readonly width: number;
  readonly height: number;
  readonly bits: 8 | 16;
  readonly hasAlpha: boolean;
  readonly grey: boolean;
  /** Focal length of the lens, px; undefined where the file does not say. */
  readonly focalPx: number | undefined;
  /** What had to be done to it, for people: "turned upright, colours converted to sRGB". */
  readonly told: string;
}

const ACCEPTED = 'PNG, JPEG, WebP, AVIF and TIFF can be brought in.';

/**
 * Reads a picture's header and refuses what cannot become a source, with a sentence that says why and what helps.
 * @throws Problem not-a-picture, empty, animated, too-many-pixels, unknown-colours, cut-off
 */
export async function inspectPicture(path: string, fileName: string): Promise<PictureHeader> {
  const { size } = await stat(path);
  if (size === 0)
    throw new Problem(422, 'empty', `${fileName} is empty (0 bytes). Export it again and bring in the new file.`);
  const head = await readHead(path);
  const kind = sniff(head);
  if (!kind) throw new Problem(415, 'not-a-picture', `${fileName} is not a picture that can be read here. ${ACCEPTED}`);
  const m = await sharp(path, { limitInputPixels: false, failOn: 'none' })
    .metadata()
    .catch(() => undefined);
  if (!m)
    throw new Problem(
      422,
      'cut-off',
      `${fileName} looks like ${kind.toUpperCase()} but its header cannot be read: ` +
        'the file is cut off or damaged. Export or copy it again.',
    );
  const format = m.format === 'heif' ? 'avif' : m.format;
  if (format !== 'png' && format !== 'jpeg' && format !== 'webp' && format !== 'avif' && format !== 'tiff') {
    throw new Problem(
      415,
      'not-a-picture',
      `${fileName} is ${String(m.format).toUpperCase()}, which cannot be read here. ${ACCEPTED}`,
    );
  }
  if (m.format === 'heif' && m.compression !== 'av1')
    throw new Problem(
      415,
      'not-a-picture',
      `${fileName} is HEIC, which cannot be read here. ${ACCEPTED} Save it as one of these.`,
    );
  if (!(m.width > 0 && m.height > 0))
    throw new Problem(422, 'empty', `${fileName} has no pixels (${m.width} × ${m.height}). Export it again.`);
  if (m.width * m.height > LIMITS.pixels) {
    throw new Problem(
      422,
      'too-many-pixels',
      `${fileName} has ${m.width} × ${m.height} px, that is ${((m.width * m.height) / 1e6).toFixed(0)} megapixels; ` +
        `at most ${LIMITS.pixels / 1e6} can be worked on. Scale it down and bring it in again.`,
    );
  }
  if ((m.pages ?? 1) > 1 && format === 'tiff')
    throw new Problem(
      422,
      'animated',
      `${fileName} holds ${m.pages} pages. Save the one you mean as a file of its own.`,
    );
  if ((m.pages ?? 1) > 1 || isAnimatedPng(head))
    throw new Problem(
      422,
      'animated',
      `${fileName} is animated. A shot begins with a still: save one frame as a picture and bring that in.`,
    );
  if (m.depth !== 'uchar' && m.depth !== 'ushort' && m.depth !== 'short')
    throw new Problem(
      422,
      'unknown-colours',
      `${fileName} stores its values as ${m.depth}. Save it with 8 or 16 bits a channel.`,
    );
  if (!m.hasProfile) refuseUnprofiledColours(head, format, fileName);
  const turned = (m.orientation ?? 1) >= 5;
  const notes = [
    (m.orientation ?? 1) > 1 ? 'turned as its orientation says' : '',
    m.hasProfile && m.space !== 'cmyk' ? 'its colour profile converted to sRGB' : '',
    m.space === 'cmyk' ? 'its ink colours (CMYK) converted to sRGB' : '',
  ]
    .filter(Boolean)
    .join(', ');
  const [width, height] = turned ? [m.height, m.width] : [m.width, m.height];
  return {
    format,
    width,
    height,
    bits: m.depth === 'uchar' ? 8 : 16,
    hasAlpha: m.hasAlpha ?? false,
    grey: (m.channels ?? 3) < 3,
    focalPx: focalLengthOf(m.exif, width, height),
    told: notes,
  };
}

const HEAD_BYTES = 1 << 16;

async function readHead(path: string): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/** The kind of picture that the first bytes announce; undefined where they announce none. */
export function sniff(head: Buffer): PictureHeader['format'] | 'gif' | undefined {
  if (head.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]))) return 'png';
  if (head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff) return 'jpeg';
  if (head.toString('latin1', 0, 4) === 'RIFF' && head.toString('latin1', 8, 12) === 'WEBP') return 'webp';
  if (/^ftyp(avi[fs]|mif1|msf1|hei)/.test(head.toString('latin1', 4, 12))) return 'avif';
  if (['II*\0', 'MM\0*', 'II+\0', 'MM\0+'].includes(head.toString('latin1', 0, 4))) return 'tiff';
  if (head.toString('latin1', 0, 4) === 'GIF8') return 'gif';
  return undefined;
}

/** The chunks of a PNG before its pixels: type and content. */
function* pngChunks(head: Buffer): Generator<{ type: string; body: Buffer }> {
  for (let at = 8; at + 8 <= head.length;) {
    const length = head.readUInt32BE(at);
    const type = head.toString('latin1', at + 4, at + 8);
    if (type === 'IDAT') return;
    yield { type, body: head.subarray(at + 8, at + 8 + length) };
    at += length + 12;
  }
}

/** True for a PNG that moves. */
export function isAnimatedPng(head: Buffer): boolean {
  if (sniff(head) !== 'png') return false;
  for (const { type } of pngChunks(head)) if (type === 'acTL') return true;
  return false;
}

/**
 * Colours can be declared by code numbers instead of a profile (ITU-T H.273), or by chromaticities. Those that mean
 * sRGB or
 * nothing pass; others would be misread, so they are refused.
 */
function refuseUnprofiledColours(head: Buffer, format: PictureHeader['format'], fileName: string): void {
  const refuse = (what: string): never => {
    throw new Problem(
      422,
      'unknown-colours',
      `${fileName} declares ${what} without a colour profile, which would be misread. ` +
        'Save it with an embedded ICC profile, or as sRGB.',
    );
  };
  const codes = (primaries: number, transfer: number): void => {
    if (![1, 2, 5, 6].includes(primaries) || ![1, 2, 6, 13].includes(transfer))
      refuse(`colours by code (H.273 primaries ${primaries}, transfer ${transfer})`);
  };
  if (format === 'avif') {
    const at = head.indexOf('colrnclx', 0, 'latin1');
    if (at >= 0 && at + 12 <= head.length) codes(head.readUInt16BE(at + 8), head.readUInt16BE(at + 10));
  }
  if (format === 'png') {
    let srgb = false;
    let gamma = 0;
    let red = 0;
    for (const { type, body } of pngChunks(head)) {
      if (type === 'cICP') codes(body[0], body[1]);
      if (type === 'sRGB') srgb = true;
      if (type === 'gAMA') gamma = body.readUInt32BE(0);
      if (type === 'cHRM') red = body.readUInt32BE(8);
    }
    if (!srgb && gamma !== 0 && Math.abs(gamma - 45455) > 2500) refuse(`a gamma of ${(gamma / 100000).toFixed(3)}`);
    if (!srgb && red !== 0 && Math.abs(red - 64000) > 1000) refuse('primaries other than those of sRGB');
  }
}
