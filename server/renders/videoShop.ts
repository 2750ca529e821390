import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { VideoOrder } from '@/core/recipes';
import { toEightBits, type Straight } from '@/core/raster/picture';
import { ycbcrToRgb } from '@/core/raster/ycbcr';
import { fetchToFile } from '../media/store';
import { joinVideo, VIDEO_MIMES, writeVideo } from '../media/video/encode';
import { layUnderSound, type SoundPart } from '../media/video/sound';
import { writePicture } from '../media/writePicture';
import {
  othersWait,
  PIECE_FRAMES,
  pieceLengths,
  pieceState,
  planPieces,
  storedPieces,
  storePiece,
  takePiece,
  tellPiece,
} from './pieces';

/** So often a worker that has nothing left to make looks whether the others are done, ms. */
const LOOK_MS = 250;

/** What a video is made with. */
export interface VideoBench {
  readonly renderId: string;
  readonly worker: string;
  /** Another worker's render: its pieces are made, and nothing else. */
  readonly helping: boolean;
  /** A folder for what is being written. */
  readonly work: string;
  readonly hasAlpha: boolean;
  /** Names of files that are stored. */
  readonly stored: ReadonlySet<string>;
  /** What is laid under it. @default it is silent */
  sound?(): Promise<SoundPart>;
  report(share: number, step: string): Promise<void>;
  /** Stores a file of the render at a place in its list. */
  store(path: string, name: string, mime: string, place: number): Promise<void>;
  /** Asks so many other workers to help. */
  invite(count: number): Promise<void>;
}

/** Makes a frame. */
type FrameMaker = (n: number) => Straight | Promise<Straight>;

/** Thrown in a worker that helps where the render shall not go on. */
export class HelpEnded extends Error {}

/** At most so many are asked to help. */
const MOST_HELPERS = 7;

/**
 * Makes a video in pieces of so many frames. Any worker takes the next piece that nobody makes; stored pieces are not
 * made again,
 * so that a video which was stopped goes on. The worker whose render it is joins them.
 */
export async function makeVideo(bench: VideoBench, order: VideoOrder, frame: FrameMaker): Promise<void> {
  const { renderId, worker, helping, stored, work } = bench;
  const name = `${order.stem}.${order.format}`;
  if (!helping) {
    if (stored.has(name)) return;
    await planPieces(renderId, order.frames);
    const many = pieceLengths(order.frames).length - 1;
    if (many > 0) await bench.invite(Math.min(MOST_HELPERS, many));
  }
  for (;;) {
    const n = await takePiece(renderId, worker);
    if (n !== undefined) {
      await makePiece(bench, order, n, frame);
      // Whoever helps does so as long as no other render waits.
      if (helping && (await othersWait())) return;
      continue;
    }
    if (helping) return;
    const { missing, done } = await pieceState(renderId);
    if (missing === 0) break;
    await bench.report(done / order.frames, `Waiting for the last ${missing === 1 ? 'piece' : 'pieces'}`);
    await sleep(LOOK_MS);
  }
  const { format } = order;
  if (format === 'png') return;
  await bench.report(0.99, 'Joining');
  const pieces = [];
  for (const [n, { mediaId, frames }] of (await storedPieces(renderId)).entries()) {
    const path = join(work, `piece-${n}`);
    await fetchToFile(mediaId, path);
    pieces.push({ path, frames });
  }
  const path = join(work, name);
  await joinVideo(path, pieces, { ...order, format });
  if (bench.sound) await layUnderSound(path, format, await bench.sound());
  await bench.store(path, name, VIDEO_MIMES[format], 1);
  for (const piece of pieces) await rm(piece.path);
  await rm(path);
}

/** Makes one piece and stores it. */
async function makePiece(bench: VideoBench, order: VideoOrder, n: number, frame: FrameMaker): Promise<void> {
  const { renderId, worker, work } = bench;
  const { format } = order;
  const first = n * PIECE_FRAMES;
  const count = pieceLengths(order.frames)[n];
  const path = join(work, `made-${n}`);
  const writer = format === 'png' ? undefined : writeVideo(path, { ...order, format }, true);
  try {
    for (let k = 0; k < count; k++) {
      const { done, running } = await tellPiece(renderId, { n, worker, done: k });
      if (bench.helping && !running) throw new HelpEnded();
      await bench.report(done / order.frames, `Rendering frame ${done + 1} of ${order.frames}`);
      const name = `frame_${String(first + k + 1).padStart(4, '0')}.png`;
      // As a file of its own it may be stored already, of a piece that was broken off.
      if (!writer && bench.stored.has(name)) continue;
      const picture = await frame(first + k);
      if (writer) {
        const eight = toEightBits(picture);
        if (first + k === 0) {
          const shown = order.colours === 'ycbcr' ? ycbcrToRgb(eight) : eight;
          await storeFrame(bench, shown, 'first-frame.png', 0);
        }
        await writer.frame(eight);
      } else await storeFrame(bench, picture, name, first + k);
    }
    await writer?.end();
  } catch (error) {
    await writer?.abort();
    throw error;
  }
  await storePiece(renderId, n, writer && path);
  if (writer) await rm(path);
}

async function storeFrame(bench: VideoBench, picture: Straight, name: string, place: number): Promise<void> {
  const path = join(bench.work, name);
  const { hasAlpha: alpha } = bench;
  await writePicture(path, picture, picture.bits === 16 ? 'png16' : 'png', { alpha, quality: 100 });
  await bench.store(path, name, 'image/png', place);
  await rm(path);
}
