import { execFile, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { open, readdir, rm, stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { promisify } from 'node:util';
import { z } from 'zod';
import type { Frames } from '@/core/carry/carryKeys';
import { pictureOf, toEightBits } from '@/core/raster/picture';
import { cacheDir, LIMITS } from '../../config';
import { Problem } from '../../http/problem';
import { inspectPicture } from '../inspect';
import { readWholePicture } from '../readWholePicture';

const run = promisify(execFile);
const PICTURES = new Set(['.png', '.jpg', '.jpeg', '.tif', '.tiff', '.webp']);
/** Unpacked footage may take so much room on the disk, bytes. */
const ROOM = 20e9;

/** Frames with the names of their pictures; `close` gives back what reading them took. */
export interface NamedFrames extends Frames {
  readonly names: readonly string[];
  close(): Promise<void>;
}

/**
 * The frames of a folder of pictures, in the order of their names, or of a video file. @throws Problem what is wrong
 * with them
 */
export async function openFrames(path: string): Promise<NamedFrames> {
  const found = await stat(path).catch(() => undefined);
  if (!found) throw new Problem(404, 'not-found', `${path} does not exist.`);
  return found.isDirectory() ? folderFrames(path) : videoFrames(path);
}

async function folderFrames(dir: string): Promise<NamedFrames> {
  const files = (await readdir(dir)).filter((name) => PICTURES.has(extname(name).toLowerCase())).sort();
  if (files.length === 0)
    throw new Problem(
      422,
      'no-frames',
      `${dir} holds no pictures; frames are PNG, JPEG, TIFF or WebP, in the order of their names.`,
    );
  const names = files.map((file) => basename(file, extname(file)));
  const twice = names.find((name, n) => names.indexOf(name) < n);
  if (twice !== undefined)
    throw new Problem(422, 'name-twice', `${dir} holds two pictures named ${twice}: nobody knows which is the frame.`);
  // Said before the first frame is worked on, and not in the middle.
  const first = await inspectPicture(join(dir, files[0]), files[0]);
  for (const file of files) {
    const { width, height } = await inspectPicture(join(dir, file), file);
    if (width !== first.width || height !== first.height)
      throw new Problem(
        422,
        'size-differs',
        `${file} is ${width} × ${height} px but ${files[0]} is ${first.width} × ${first.height} px. Frames have one size.`,
      );
  }
  return {
    count: files.length,
    names,
    frame: async (n) => toEightBits(await readWholePicture(join(dir, files[n]), files[n])),
    close: () => Promise.resolve(),
  };
}

const probed = z.object({
  streams: z
    .array(
      z.object({
        width: z.number().int().positive(),
        height: z.number().int().positive(),
        /** A film that was taken upright says by how much it is to be turned, degrees. */
        side_data_list: z.array(z.object({ rotation: z.number().optional() })).default([]),
      }),
    )
    .min(1),
});
const NO_FFMPEG = 'FFmpeg could not be started. It comes with Debian’s package ffmpeg.';

const unreadableFile = (path: string, why: string): Problem =>
  new Problem(422, 'not-readable', `${basename(path)} cannot be read as footage: ${why}`);

/** What FFmpeg unpacks lies in a file of its own while it is read: any frame is a place in it. */
async function videoFrames(path: string): Promise<NamedFrames> {
  const unreadable = (why: string): Problem => unreadableFile(path, why);
  const { stdout } = await run('ffprobe', [
    ...['-v', 'error', '-select_streams', 'v:0', '-of', 'json'],
    ...['-show_entries', 'stream=width,height:stream_side_data=rotation', path],
  ]).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT') throw new Problem(422, 'no-video', NO_FFMPEG);
    throw unreadable('it holds no video that FFmpeg knows.');
  });
  const streams = probed.safeParse(JSON.parse(stdout));
  if (!streams.success) throw unreadable('it holds no pictures.');
  const [stored] = streams.data.streams;
  const lies = stored.side_data_list.some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90);
  const [width, height] = lies ? [stored.height, stored.width] : [stored.width, stored.height];
  if (width * height > LIMITS.pixels) throw unreadable(`its frames are ${width} × ${height} px.`);
  const raw = join(cacheDir('incoming'), `${randomUUID()}.rgba`);
  const bytes = width * height * 4;
  try {
    await unpack(path, raw, bytes);
    const { size } = await stat(raw);
    const count = Math.floor(size / bytes);
    if (count === 0) throw unreadable('it holds no whole frame.');
    const file = await open(raw, 'r');
    const digits = Math.max(4, String(count).length);
    return {
      count,
      names: Array.from({ length: count }, (_, n) => `frame_${String(n + 1).padStart(digits, '0')}`),
      frame: async (n) => {
        const data = new Uint8Array(bytes);
        await file.read(data, 0, bytes, n * bytes);
        return pictureOf({ width, height }, data, 'straight');
      },
      close: async () => {
        await file.close();
        await rm(raw, { force: true });
      },
    };
  } catch (error) {
    await rm(raw, { force: true });
    throw error;
  }
}

/** Unpacks footage to RGBA of 8 bits, turned as it says, each frame once. @throws Problem `too-long` */
function unpack(path: string, to: string, bytes: number): Promise<void> {
  const most = Math.floor(ROOM / bytes);
  const words = ['-v', 'error', '-y', '-i', path, '-map', '0:v:0', '-fps_mode', 'passthrough'];
  const ffmpeg = spawn('ffmpeg', [...words, '-frames:v', String(most + 1), '-f', 'rawvideo', '-pix_fmt', 'rgba', to], {
    stdio: ['ignore', 'ignore', 'pipe'],
  });
  let says = '';
  ffmpeg.stderr.on('data', (text: Buffer) => {
    says = (says + text.toString()).slice(-2000);
  });
  return new Promise((done, failed) => {
    ffmpeg.on('error', () => {
      failed(new Problem(422, 'no-video', NO_FFMPEG));
    });
    ffmpeg.on('close', (code) => {
      // What ended in the middle would be taken for shorter footage.
      if (code !== 0) {
        failed(unreadableFile(path, says.split('\n')[0]));
        return;
      }
      void stat(to).then(
        ({ size }) => {
          if (size > most * bytes)
            failed(
              new Problem(
                422,
                'too-long',
                `${basename(path)} unpacks to more than ${ROOM / 1e9} GB. Hand in a part of it.`,
              ),
            );
          else done();
        },
        () => {
          failed(unreadableFile(path, 'it holds no frames.'));
        },
      );
    });
  });
}
