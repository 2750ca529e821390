import { readFile } from 'node:fs/promises';
import { mkdir } from 'node:fs/promises';
import { basename, extname, join } from 'node:path';
import { readCamera } from '@/core/camera/cameraFile';
import type { Move } from '@/core/camera/move';
import type { SourceCamera } from '@/core/camera/sourceCamera';
import { CoreError } from '@/core/error';
import type { Size } from '@/core/kind';
import { coverWindow } from '@/core/move/coverWindow';
import { halvedRasters, halvingsForScale } from '@/core/move/halvedRasters';
import { movedView, openMove, DRY, TORN } from '@/core/move/openMove';
import { unpremultiply } from '@/core/raster/alpha';
import { copyPicture, toEightBits, type Premultiplied } from '@/core/raster/picture';
import { sceneAt, wholeScene, type MovedPart } from '@/core/scene/sceneAt';
import { beginBudget } from '@/core/stereo/parallax';
import type { ShotRasters } from '@/core/shot/rasters';
import { VIDEO_FORMATS, type VideoFormat } from '@/core/recipes';
import { writeVideo } from '@/server/media/video/encode';
import { writePicture } from '@/server/media/writePicture';
import { framesIn } from '../frames';
import { withShot } from '../house';
import { needInput, readInput } from '../input';
import { needed, oneOf, readWords, WrongWords } from '../words';

/** A camera moving through a picture: a folder of frames, or a video. */
export async function move(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    shot: { type: 'string' },
    plates: { type: 'string' },
    picture: { type: 'string' },
    depth: { type: 'string' },
    camera: { type: 'string' },
    size: { type: 'string' },
    frames: { type: 'string' },
    eye: { type: 'string' },
    out: { type: 'string' },
    json: { type: 'boolean' },
  });
  if (given.shot === undefined) {
    needInput(given);
    needed('camera', given.camera);
  }
  const order: Order = {
    out: needed('out', given.out),
    size: sizeOf(given.size),
    frames: framesIn(given.frames),
    eye: oneOf('eye', given.eye, ['centre', 'left', 'right'] as const, 'centre'),
    json: given.json === true,
  };
  const ending = extname(order.out).slice(1).toLowerCase();
  if (ending !== '' && !isVideo(ending))
    throw new WrongWords(
      `--out takes a folder or a file that ends in .mp4, .webm or .gif, not '${basename(order.out)}'.`,
    );
  if (given.shot === undefined) {
    const input = await readInput(given);
    const { width, height } = input.rasters.picture;
    const document: MovedPart = {
      budget: beginBudget(width),
      sourceEye: input.eye,
      swapEyes: false,
      tearPx: input.tearPx,
      depth: input.plates.back,
      source: { width, height },
      plates: input.plates.others,
    };
    const camera = await readCameraFile(needed('camera', given.camera), input.rasters.picture);
    await run({ document, rasters: input.rasters, hasAlpha: input.hasAlpha, ...camera }, order);
    return;
  }
  const odd = (['plates', 'picture', 'depth'] as const).find((word) => given[word] !== undefined);
  if (odd) throw new WrongWords(`--${odd} cannot stand beside --shot: the shot holds its pictures.`);
  await withShot(given.shot, async ({ document, name }) => {
    const { shotRasters } = await import('@/server/shots/platePixels');
    const made =
      given.camera === undefined
        ? { move: document.move, camera: undefined }
        : await readCameraFile(given.camera, document.source);
    if (!made.move)
      throw new CoreError('no-move', `'${name}' has no move of its own. Make one in its Move stage, or give --camera.`);
    const rasters = await shotRasters(document);
    await run({ document, rasters, hasAlpha: document.source.hasAlpha, move: made.move, camera: made.camera }, order);
  });
}

interface Order {
  readonly out: string;
  readonly size: Size | undefined;
  readonly frames: { readonly first: number; readonly last: number } | undefined;
  readonly eye: 'centre' | 'left' | 'right';
  readonly json: boolean;
}

interface Moved {
  readonly document: MovedPart;
  readonly rasters: ShotRasters<Premultiplied>;
  readonly hasAlpha: boolean;
  readonly move: Move;
  readonly camera: SourceCamera | undefined;
}

const EYES = { centre: null, left: -0.5, right: 0.5 } as const;

async function run({ document, rasters, hasAlpha, move: made, camera }: Moved, order: Order): Promise<void> {
  const began = performance.now();
  const { first, last } = order.frames ?? { first: 1, last: made.frames };
  if (last > made.frames)
    throw new CoreError('no-frames', `The move has frames 1 to ${made.frames}; --frames asks for ${first} to ${last}.`);
  const scene = wholeScene(document, camera);
  const { size, window } = coverWindow(document.source, order.size ?? document.source);
  const times = halvingsForScale(window.scale);
  const opened = openMove(halvedRasters(rasters, times), { size, window, scale: 0.5 ** times, fine: true });
  const view = movedView(rasters.picture, size);
  const deep = rasters.picture.bits === 16;
  const format = extname(order.out).slice(1).toLowerCase();
  const video = isVideo(format) ? writeVideo(order.out, { ...size, format, fps: made.fps }) : undefined;
  if (!video) await mkdir(order.out, { recursive: true });
  let rendering = 0;
  const torn: number[] = [];
  const dry: number[] = [];
  try {
    for (let frame = first; frame <= last; frame++) {
      const start = performance.now();
      opened.render(sceneAt(scene, made, frame - 1), EYES[order.eye], view);
      rendering += performance.now() - start;
      torn.push(shareOf(view.state.data, TORN));
      dry.push(shareOf(view.state.data, DRY));
      const picture = hasAlpha ? unpremultiply(copyPicture(view.picture)) : unpremultiply(view.picture, false);
      if (video) await video.frame(toEightBits(picture));
      else {
        const name = `frame_${String(frame).padStart(4, '0')}.png`;
        await writePicture(join(order.out, name), picture, deep ? 'png16' : 'png', { alpha: hasAlpha });
      }
    }
    await video?.end();
  } catch (error) {
    await video?.abort();
    throw error;
  }
  if (order.json) {
    const round = (v: number, n: number): number => Math.round(v * 10 ** n) / 10 ** n;
    console.log(
      JSON.stringify({
        ...size,
        fps: made.fps,
        frames: last - first + 1,
        ms: { render: round(rendering, 1), all: round(performance.now() - began, 1) },
        openedShare: torn.map((s) => round(s, 6)),
        dryShare: dry.map((s) => round(s, 6)),
      }),
    );
  }
}

const isVideo = (format: string): format is VideoFormat => (VIDEO_FORMATS as readonly string[]).includes(format);

function shareOf(state: Uint8Array, what: number): number {
  let n = 0;
  for (const s of state) if (s === what) n++;
  return n / state.length;
}

async function readCameraFile(path: string, source: Size): Promise<{ camera: SourceCamera; move: Move }> {
  return readCamera(await readFile(path, 'utf8'), basename(path), source);
}

function sizeOf(given: string | undefined): Size | undefined {
  if (given === undefined) return undefined;
  const found = /^(\d{1,5})x(\d{1,5})$/.exec(given);
  const [width, height] = found ? [Number(found[1]), Number(found[2])] : [0, 0];
  if (width < 16 || height < 16 || width > 8192 || height > 8192)
    throw new WrongWords(`--size takes a width and a height of 16 to 8192 px, as 1920x1080, not '${given}'.`);
  return { width, height };
}
