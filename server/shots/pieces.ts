import { loadRevision, readMap, storeMap } from '../rasters/revisions';
import { randomUUID } from 'node:crypto';
import { rename, unlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { EntityManager } from '@mikro-orm/postgresql';
import { moveDepth } from '@/core/depth/moveDepth';
import { cropPicture } from '@/core/raster/crop';
import { matchColour } from '@/core/raster/matchColour';
import { narrowed, widened } from '@/core/raster/bits';
import { placePiece, type Placement } from '@/core/raster/placePiece';
import type { Piece, Plate, ShotDocument } from '@/core/shot/document';
import { coveredRect } from '@/core/shot/plates';
import { cacheDir } from '../config';
import { Problem } from '../http/problem';
import { decodeToRaster, readRaster, sourceRaster } from '../media/decode';
import { inspectPicture } from '../media/inspect';
import { storeFile } from '../media/store';
import { writePicture } from '../media/writePicture';
import {
  isDeep,
  pictureOf,
  sixteenBits,
  type DepthMap,
  type Mask,
  type Picture,
  type Straight,
} from '@/core/raster/picture';

type Source = ShotDocument['source'];

/** A new plate's beginnings, not cut yet. */
export function begunPlate(called: string): Plate {
  return {
    id: randomUUID(),
    name: called,
    matte: null,
    choice: null,
    piece: null,
    fill: null,
    overpaint: null,
    strokes: [],
    tearPx: null,
    tearSoftPx: null,
    group: null,
    depth: { revision: null, near: 0.6, far: 0.5 },
    keys: [],
    hidden: false,
    locked: false,
  };
}

/**
 * Stores a picture file as a piece: its header checked, decoded once to prove it whole. It begins in the middle, as
 * large as it fits.
 */
export async function storePiece(
  em: EntityManager,
  path: string,
  fileName: string,
  { source, at }: { readonly source: { width: number; height: number }; readonly at?: { x: number; y: number } },
): Promise<Piece> {
  const { width, height, bits, format } = await inspectPicture(path, fileName);
  const proof = join(cacheDir('source'), `incoming-${randomUUID()}.v`);
  await decodeToRaster(path, proof, bits, fileName);
  const media = await storeFile(em, path, fileName, `image/${format}`);
  // Kept under the name by which it is looked for, also within this transaction.
  await rename(proof, join(cacheDir('source'), `${media.id}.v`));
  const scale = at
    ? 1
    : Math.max(0.01, Math.min(1, Math.floor(100 * Math.min(source.width / width, source.height / height)) / 100));
  return {
    mediaId: media.id,
    fileName,
    width,
    height,
    bits,
    placement: {
      x: at?.x ?? source.width / 2,
      y: at?.y ?? source.height / 2,
      scale,
      turn: 0,
      flipAcross: false,
      flipDown: false,
    },
    match: null,
  };
}

/** Makes a piece of what stands on a canvas, trimmed to what it covers. @throws Problem `nothing-there` */
export async function bakePiece(em: EntityManager, picture: Straight, fileName: string): Promise<Piece> {
  const rect = coveredRect(coverOf(picture));
  if (!rect)
    throw new Problem(
      422,
      'nothing-there',
      `${fileName} covers nothing of the picture, so there is nothing to make a plate of.`,
    );
  const part = cropPicture(picture, rect);
  const path = join(cacheDir('incoming'), `${randomUUID()}.png`);
  try {
    await writePicture(path, part, isDeep(picture) ? 'png16' : 'png', { alpha: true });
    return await storePiece(em, path, fileName, {
      source: picture,
      at: {
        x: rect.left + part.width / 2,
        y: rect.top + part.height / 2,
      },
    });
  } finally {
    await unlink(path).catch(() => undefined);
  }
}

/** A picture's coverage as 8-bit matte. */
export function coverOf({ width, height, data }: Picture): Mask {
  const cover = new Uint8Array(width * height);
  const deep = sixteenBits(data);
  for (let i = 0; i < cover.length; i++) cover[i] = deep ? Math.round(data[i * 4 + 3] / 257) : data[i * 4 + 3];
  return { width, height, data: cover };
}

/** A piece in its place on the whole picture, with as many bits as that has; straight alpha. */
export async function placedPiece(piece: Piece, source: Pick<Source, 'width' | 'height' | 'bits'>): Promise<Straight> {
  const pieceColours = await readRaster(await sourceRaster(piece), piece.bits);
  const from =
    isDeep(pieceColours) === (source.bits === 16)
      ? pieceColours
      : pictureOf(
          pieceColours,
          isDeep(pieceColours) ? narrowed(pieceColours.data) : widened(pieceColours.data),
          'straight',
        );
  return placePiece(
    from,
    piece.placement,
    { left: 0, top: 0, scale: 1, width: source.width, height: source.height },
    piece.match ?? undefined,
  );
}

/** Stores what a piece covers in its place. */
export async function storeCover(em: EntityManager, piece: Piece, source: Source): Promise<string> {
  const cover = coverOf(await placedPiece(piece, source));
  return (await storeMap(em, { ...cover, data: widened(cover.data) })).id;
}

/** A plate whose piece was placed anew: its matte follows, and its depth travels along. */
export async function followPlacement(em: EntityManager, was: Placement, plate: Plate, source: Source): Promise<Plate> {
  const piece = plate.piece!;
  const matte = await storeCover(em, piece, source);
  if (plate.depth.revision === null) return { ...plate, matte };
  const map = await readMap(em, await loadRevision(em, plate.depth.revision));
  return {
    ...plate,
    matte,
    depth: { ...plate.depth, revision: (await storeMap(em, moveDepth(map, was, piece.placement))).id },
  };
}

/** Colours that make a plate's piece look at home where it lies. */
export async function matchedPiece(piece: Piece, source: Source): Promise<Piece> {
  const ground = await readRaster(await sourceRaster(source), source.bits);
  const placed = await placedPiece({ ...piece, match: null }, source);
  return {
    ...piece,
    match: { strength: 1, ...matchColour(placed, ground, Math.max(12, Math.round(source.width / 25))) },
  };
}

/** A depth map of one value over a picture. */
export function flatDepth({ width, height }: { width: number; height: number }, value = 32768): DepthMap {
  return { width, height, data: new Uint16Array(width * height).fill(value) };
}
