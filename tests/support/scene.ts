import { loadChoice } from '@/server/shots/choices';
import { shotState, type ShotState } from '@/server/shots/history';
import type { ShotRasters } from '@/core/shot/rasters';
import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import sharp from 'sharp';
import { PLAIN_EDGE, type Choice } from '@/core/matte/choice';
import type { Plate, ShotDocument } from '@/core/shot/document';
import { database } from '@/server/db/orm';
import { query } from '@/server/db/query';
import { readRaster, sourceRaster } from '@/server/media/decode';
import { bringIn } from '@/server/shots/bringIn';
import { createProject } from '@/server/shots/desk';
import { shotRasters } from '@/server/shots/platePixels';
import { ROOT, scratch } from './cli';
import { houseOfTest } from './house';
import { replaceDepth } from './replaceDepth';
import type { Picture, Premultiplied } from '@/core/raster/picture';

/** A database, a project and a folder for the server tests of one file. */
export interface Scene {
  readonly project: string;
  readonly dir: string;
  /** A shot whose colours and, where given, depths (0 to 65535) are functions of x and y. */
  shot(
    name: string,
    size: readonly [number, number],
    colour: (x: number, y: number) => readonly number[],
    depth?: (x: number, y: number) => number,
  ): Promise<string>;
  /** A file of one colour. */
  file(name: string, width: number, height: number, background: string): Promise<string>;
}

/**
 * Sets up what the tests of one file need, and takes it away after them. @param end what else must end before the
 * database is gone
 */
export function scene(project: string, end?: () => Promise<void>): Scene {
  let house: Awaited<ReturnType<typeof houseOfTest>>;
  let id = '';
  const dir = scratch();
  beforeAll(async () => {
    house = await houseOfTest();
    id = await createProject(project);
    // The threads' code is a bundle; bin/test has just made it with the house that it tests.
    if (!process.env.CORK_TEST_ADDRESS)
      execFileSync(process.execPath, ['scripts/build.mjs', '--bundles'], { cwd: ROOT });
  });
  afterAll(async () => {
    await end?.();
    await house.end();
  });
  return {
    get project() {
      return id;
    },
    dir,
    shot: async (name, [width, height], colour, depth) => {
      const path = join(dir, `${name}.png`);
      await sharp(
        Buffer.from(Array.from({ length: width * height }, (_, i) => colour(i % width, Math.floor(i / width))).flat()),
        { raw: { width, height, channels: 3 } },
      )
        .png()
        .toFile(path);
      const shot = await bringIn(id, path, `${name}.png`);
      if (depth)
        await replaceDepth({ id: shot, expectedHead: await headOf(shot) }, 'Depth', {
          width,
          height,
          data: Uint16Array.from({ length: width * height }, (_, i) =>
            Math.round(depth(i % width, Math.floor(i / width))),
          ),
        });
      return shot;
    },
    file: async (name, width, height, background) => {
      const path = join(dir, name);
      await sharp({ create: { width, height, channels: 4, background } })
        .png()
        .toFile(path);
      return path;
    },
  };
}

export const headOf = async (shot: string): Promise<number> => (await shotState(shot)).head;

/** A choice of one rectangle. */
export const boxChoice = (left: number, top: number, right: number, bottom: number): Choice => ({
  ingredients: [
    {
      kind: 'outline',
      way: 'add',
      points: [
        { x: left, y: top },
        { x: right, y: top },
        { x: right, y: bottom },
        { x: left, y: bottom },
      ],
    },
  ],
  edge: PLAIN_EDGE,
});

export const sourcePicture = async (s: Pick<ShotState, 'document'>): Promise<Picture> =>
  readRaster(await sourceRaster(s.document.source), s.document.source.bits);

/** A shot as it is laid out for rendering. */
export const laidOut = async (s: Pick<ShotState, 'document'>): Promise<ShotRasters<Premultiplied>> =>
  shotRasters(s.document);

/** Red, green, blue of one pixel, or with alpha. */
export const pixel = ({ width, data }: Picture, x: number, y: number, channels = 3): number[] => [
  ...data.slice((y * width + x) * 4, (y * width + x) * 4 + channels),
];

type BeforePlate = Omit<Plate, 'choice'> & { readonly choice: Choice | null };
type Before = Omit<ShotDocument, 'plates' | 'version'> & { readonly plates: readonly BeforePlate[] };

/**
 * Puts a shot's document back as it was stored before: of version 1, with its choices within it, and without what
 * `strip` leaves out.
 */
export async function asBefore(shot: string, strip: (document: Before) => object): Promise<void> {
  const em = await database();
  const { document, head } = await shotState(shot);
  const plates: BeforePlate[] = [];
  for (const p of document.plates)
    plates.push({ ...p, choice: p.choice === null ? null : await loadChoice(em, p.choice) });
  const text = JSON.stringify({ ...strip({ ...document, plates }), version: 1 });
  await query(em, 'update shot set document = $1::jsonb, since = 0 where id = $2', [text, shot]);
  await query(em, 'update history_entry set document = $1::jsonb, patch = null, since = 0 where id = $2', [text, head]);
}
