import { randomUUID } from 'node:crypto';
import { open, readdir, rm, stat } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import type { Frames } from '@/core/carry/carryKeys';
import { pictureOf, toEightBits } from '@/core/raster/picture';
import { cacheDir } from '../../config';
import { Problem } from '../../http/problem';
import { openVideo } from '../footage/videoFile';
import { inspectPicture } from '../inspect';
import { readWholePicture } from '../readWholePicture';

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

/** What FFmpeg unpacks lies in a file of its own while it is read: any frame is a place in it. */
async function videoFrames(path: string): Promise<NamedFrames> {
  const name = basename(path);
  const { info, frames } = await openVideo(path, name, Infinity);
  const { width, height } = info;
  const count = info.shows.length;
  const bytes = width * height * 4;
  if (count * bytes > ROOM)
    throw new Problem(422, 'too-long', `${name} unpacks to more than ${ROOM / 1e9} GB. Hand in a part of it.`);
  const raw = join(cacheDir('incoming'), `${randomUUID()}.rgba`);
  const out = await open(raw, 'w+');
  const close = async (): Promise<void> => {
    await out.close();
    await rm(raw, { force: true });
  };
  try {
    for await (const picture of frames(0, count)) await out.write(toEightBits(picture).data as Uint8Array);
  } catch (error) {
    await close();
    throw error;
  }
  const digits = Math.max(4, String(count).length);
  return {
    count,
    names: Array.from({ length: count }, (_, n) => `frame_${String(n + 1).padStart(digits, '0')}`),
    frame: async (n) => {
      const data = new Uint8Array(bytes);
      await out.read(data, 0, bytes, n * bytes);
      return pictureOf({ width, height }, data, 'straight');
    },
    close,
  };
}
