import { mkdir } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { CoreError } from '@/core/error';
import { toEightBits, type Straight } from '@/core/raster/picture';
import type { Colours } from '@/core/raster/ycbcr';
import { VIDEO_FORMATS, type VideoFormat } from '@/core/recipes';
import { eyeSize, keepsColours, framePacker, PACKINGS, type VideoPacking } from '@/core/recipes/video';
import { writeVideo } from '@/server/media/video/encode';
import { writePicture } from '@/server/media/writePicture';
import { withShot } from '../house';
import { framesIn } from '../frames';
import { needed, oneOf, readWords, WrongWords } from '../words';

/** A shot that moves, in one eye or packed: a folder of frames, or a video with its sound. */
export async function footage(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    shot: { type: 'string' },
    frames: { type: 'string' },
    as: { type: 'string' },
    out: { type: 'string' },
  });
  const shot = needed('shot', given.shot);
  const out = needed('out', given.out);
  const packing = oneOf('as', given.as, PACKINGS, 'side-by-side');
  const frames = framesIn(given.frames);
  const ending = extname(out).slice(1).toLowerCase();
  if (ending !== '' && !isVideo(ending))
    throw new WrongWords(`--out takes a folder or a file that ends in .mp4, .webm or .gif, not '${basename(out)}'.`);
  await withShot(shot, async ({ document, name }) => {
    const { FilmShop } = await import('@/server/renders/filmShop');
    if (!document.footage) throw new CoreError('no-footage', `'${name}' is a still: it has no frames.`);
    const film = new FilmShop(document, document.footage);
    const all = document.footage.frames;
    const range = frames ? { first: frames.first - 1, last: frames.last - 1 } : film.range;
    if (range.last >= all)
      throw new CoreError(
        'no-frames',
        `'${name}' has frames 1 to ${all}; --frames asks for ${range.first + 1} to ${range.last + 1}.`,
      );
    film.requireCarried(range);
    // Codecs take even sides only.
    const even = eyeSize({ size: 'source', custom: document.source }, document.source);
    const colours = keepsColours({ packing, format: ending }) ? await film.colours() : 'rgb';
    const how = { size: isVideo(ending) ? even : document.source, shutter: 0, colours };
    const pack = framePacker(packing);
    const picture = (frame: number): Promise<Straight> => pack((eye) => film.see(frame, eye, how));
    try {
      if (isVideo(ending)) await writeFilm({ path: out, format: ending, packing, range, colours }, document, picture);
      else await writeFrames(out, range, picture);
    } finally {
      await film.end();
    }
  });
}

interface Range {
  readonly first: number;
  readonly last: number;
}
type Shot = Parameters<Parameters<typeof withShot>[1]>[0]['document'];

async function writeFrames(dir: string, range: Range, picture: (frame: number) => Promise<Straight>): Promise<void> {
  await mkdir(dir, { recursive: true });
  for (let frame = range.first; frame <= range.last; frame++) {
    const made = await picture(frame);
    const path = join(dir, `frame_${String(frame + 1).padStart(4, '0')}.png`);
    await writePicture(path, made, made.bits === 16 ? 'png16' : 'png', { alpha: false });
  }
}

interface FilmOrder {
  readonly path: string;
  readonly format: VideoFormat;
  readonly packing: VideoPacking;
  readonly range: Range;
  readonly colours: Colours;
}

async function writeFilm(
  { path, format, packing, range, colours }: FilmOrder,
  { source, footage: film }: Shot,
  picture: (frame: number) => Promise<Straight>,
): Promise<void> {
  const { numerator, denominator } = film!.rate;
  let writer: ReturnType<typeof writeVideo> | undefined;
  try {
    for (let frame = range.first; frame <= range.last; frame++) {
      const made = toEightBits(await picture(frame));
      const { width, height } = made;
      writer ??= writeVideo(path, { width, height, format, packing, colours, fps: numerator / denominator });
      await writer.frame(made);
    }
    await writer?.end();
  } catch (error) {
    await writer?.abort();
    throw error;
  }
  if (!film!.sound) return;
  const { soundOf } = await import('@/server/renders/soundOf');
  const { layUnderSound } = await import('@/server/media/video/sound');
  await layUnderSound(path, format, await soundOf(source, film!, range));
}

const isVideo = (format: string): format is VideoFormat => (VIDEO_FORMATS as readonly string[]).includes(format);
