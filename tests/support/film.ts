import { execFileSync, spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { zipSync } from 'fflate';
import sharp from 'sharp';

export const WIDE = 192;
export const HIGH = 128;
const BITS = 12;
const FIELD = WIDE / BITS;

/**
 * A frame whose number is painted into it: twelve fields, white for a one, the lowest bit at the left; below them a
 * ramp.
 */
export function numbered(n: number): Buffer {
  const frame = Buffer.alloc(WIDE * HIGH * 3);
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, i += 3) {
      const bar = ((n >> Math.floor(x / FIELD)) & 1) === 1 ? 230 : 25;
      const v = y < HIGH / 2 ? bar : 40 + x;
      frame.fill(v, i, i + 3);
    }
  return frame;
}

/**
 * The number that is painted into a picture of any size. @param at channel values of a place, 0 to 1 of width and
 * height
 */
export function numberIn(at: (x: number, y: number) => number): number {
  let n = 0;
  for (let bit = 0; bit < BITS; bit++) if (at((bit + 0.5) / BITS, 0.25) > 128) n |= 1 << bit;
  return n;
}

/** The number that is painted into RGBA. */
export const numberOf = ({
  width,
  height,
  data,
}: {
  readonly width: number;
  readonly height: number;
  readonly data: ArrayLike<number>;
}): number => numberIn((x, y) => data[4 * (Math.floor(y * height) * width + Math.floor(x * width))]);

/** The number that is painted into a picture file. */
export async function numberInFile(file: Buffer): Promise<number> {
  const { data, info } = await sharp(file).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return numberOf({ ...info, data });
}

/** Writes numbered frames as a film by FFmpeg. @param words what comes behind the input: codec, rate, filters */
export const film = (path: string, count: number, rate: string, words: readonly string[]): string =>
  filmOf(
    path,
    Array.from({ length: count }, (_, n) => numbered(n)),
    rate,
    words,
  );

/** Writes frames of that size, red, green and blue, as a film by FFmpeg. */
export function filmOf(path: string, frames: readonly Buffer[], rate: string, words: readonly string[]): string {
  const raw = Buffer.concat(frames);
  const size = `${WIDE}x${HIGH}`;
  const run = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-s', size, '-r', rate, '-i', '-', ...words, path],
    { input: raw, maxBuffer: 1 << 28 },
  );
  if (run.status !== 0) throw new Error(run.stderr.toString());
  return path;
}

/** Numbered pictures in a zip. */
export async function pictureZip(path: string, count: number, nameOf: (n: number) => string): Promise<string> {
  const files: Record<string, Uint8Array> = {};
  for (let n = 0; n < count; n++)
    files[nameOf(n)] = await sharp(numbered(n), { raw: { width: WIDE, height: HIGH, channels: 3 } })
      .png()
      .toBuffer();
  writeFileSync(path, zipSync(files, { level: 0 }));
  return path;
}

/** An animated WebP of numbered frames. @param delay ms of each */
export async function animatedWebp(path: string, delay: readonly number[]): Promise<string> {
  const tall = Buffer.concat(delay.map((_, n) => numbered(n)));
  await sharp(tall, { raw: { width: WIDE, height: HIGH * delay.length, channels: 3, pageHeight: HIGH } as never })
    .webp({ quality: 90, delay: [...delay] })
    .toFile(path);
  return path;
}

/** What ffprobe counts in a file by decoding it. */
export function probed(path: string): { frames: number; rate: string; width: number; height: number } {
  const text = execFileSync(
    'ffprobe',
    [
      ...['-v', 'error', '-count_frames', '-select_streams', 'v:0', '-of', 'json'],
      ...['-show_entries', 'stream=nb_read_frames,avg_frame_rate,width,height', path],
    ],
    { encoding: 'utf8' },
  );
  const [stream] = (JSON.parse(text) as { streams: Record<string, string>[] }).streams;
  return {
    frames: Number(stream.nb_read_frames),
    rate: stream.avg_frame_rate,
    width: Number(stream.width),
    height: Number(stream.height),
  };
}
