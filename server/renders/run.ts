import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { Reveal } from '@/core/fill/revealMap';
import type { Size } from '@/core/kind';
import { seeMove } from '@/core/move/moveReveal';
import { unpremultiply } from '@/core/raster/alpha';
import {
  makerOf,
  type PictureOrder,
  type SeeingHow,
  type SheetOrder,
  type VideoOrder,
  type Workshop,
} from '@/core/recipes';
import { cropPicture } from '@/core/raster/crop';
import type { Premultiplied, Straight } from '@/core/raster/picture';
import type { Colours } from '@/core/raster/ycbcr';
import { wholeScene } from '@/core/scene/sceneAt';
import { sceneOf } from '@/core/scene/sceneOf';
import { footageRange, handedSize, rangeOf, type ShotDocument } from '@/core/shot/document';
import type { ShotRasters } from '@/core/shot/rasters';
import { renderView } from '@/core/view/renderView';
import { Render, type RenderReport } from '../db/entities';
import { database, inTransaction } from '../db/orm';
import { query } from '../db/query';
import { EXTENSIONS, MIMES, writePicture } from '../media/writePicture';
import { openDocument } from '../shots/documents';
import { shotFills, shotRasters } from '../shots/platePixels';
import { FilmShop } from './filmShop';
import { MoveShop } from './moveShop';
import { interlaceSheet } from './interlaceSheet';
import { dropPieces } from './pieces';
import { soundOf } from './soundOf';
import { storeOutput } from './storeOutput';
import { makeVideo } from './videoShop';

/** Thrown inside a render when its people stopped it, or another worker has it. */
export class Interrupted extends Error {}

/** Reports how far a render is; throws Interrupted where it shall end. */
export type Report = (progress: number, step: string) => Promise<void>;

/** Who makes a render. */
export interface Maker {
  readonly worker: string;
  /** Another worker's render: its pieces are made, as far as it has any. */
  readonly helping: boolean;
  /** Asks so many other workers to help. */
  invite(count: number): Promise<void>;
}
const ALONE: Maker = { worker: 'alone', helping: false, invite: () => Promise.resolve() };

/**
 * Makes what a render's recipe asks for and stores each file as soon as it is whole. Files that an earlier attempt
 * has stored
 * are not made again, so a render that was cut off goes on where it stood.
 */
export async function runRender(render: Render, report: Report, who: Maker = ALONE): Promise<void> {
  const began = performance.now();
  const work = await mkdtemp(join(tmpdir(), 'cork-render-'));
  try {
    await report(0, 'Reading the picture and its depth');
    const em = await database();
    const document = await openDocument(em, render.document);
    const rows = await query<{ name: string }>(em, 'select name from render_output where render_id = $1', [render.id]);
    const rasters = await shotRasters(document);
    const stored = new Set(rows.map((r) => r.name));
    const shop = new RenderShop(render.id, { document, rasters, work, stored, report, who });
    const maker = makerOf(render.recipe);
    try {
      await maker.run(render.recipe, shop);
    } finally {
      await shop.end();
    }
    if (who.helping) return;
    const openPx = await countOpen(
      { document, rasters, eyes: maker.steps(render.recipe), moves: maker.moves === true },
      report,
    );
    const size = maker.size(render.recipe, shop.handed);
    const { revealedShare } = shop;
    const milliseconds = Math.round(performance.now() - began);
    await finish(render.id, { ...size, milliseconds, revealedShare, openPx });
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

/** Share of a render after which what is open is counted. */
const COUNTING_FROM = 0.95;

interface Counting {
  readonly document: ShotDocument;
  readonly rasters: ShotRasters<Premultiplied>;
  readonly eyes: readonly number[];
  /** By the shot's move instead of standing eyes. */
  readonly moves: boolean;
}

/** What views uncover behind nearer plates and nobody has filled; also of those that an earlier attempt has made. */
async function countOpen({ document, rasters, eyes, moves }: Counting, report: Report): Promise<number> {
  if (document.plates.length === 0) return 0;
  const fills = await shotFills(document);
  const reveal = new Reveal(sceneOf(document), rasters, 1);
  const { move } = document;
  const look = moves && move ? { scene: wholeScene(document), move, ...rangeOf(move) } : undefined;
  const steps = look ? seeMove(reveal, look, rasters, 1) : reveal.see(eyes);
  for (const share of steps) await report(COUNTING_FROM + (1 - COUNTING_FROM) * share, 'Counting what is not filled');
  let open = 0;
  for (const { id, mask } of reveal.found(0)) {
    const fill = fills.get(id);
    for (let i = 0; i < mask.data.length; i++) if (mask.data[i] && !(fill && fill.data[i * 4 + 3] > 0)) open++;
  }
  return open;
}

interface Making {
  readonly document: ShotDocument;
  /** Premultiplied where the source has any transparency. */
  readonly rasters: ShotRasters<Premultiplied>;
  /** A folder for what is being written. */
  readonly work: string;
  /** Names of files that are stored. */
  readonly stored: Set<string>;
  readonly report: Report;
  readonly who: Maker;
}

/** Where a render's files are made and stored. */
class RenderShop implements Workshop {
  readonly handed: Size;
  /** Largest share of revealed pixels of any view so far. */
  revealedShare = 0;
  private through: MoveShop | undefined;
  private film: FilmShop | undefined;

  constructor(
    private readonly render: string,
    private readonly making: Making,
  ) {
    this.handed = handedSize(making.document);
  }

  get move(): Workshop['move'] {
    const { move, footage } = this.making.document;
    if (footage)
      return { fps: footage.rate.numerator / footage.rate.denominator, ...footageRange(footage), stem: 'film' };
    return move && { fps: move.fps, ...rangeOf(move), stem: 'move' };
  }

  async movedColours(): Promise<Colours> {
    return (await this.openFilm()?.colours()) ?? 'rgb';
  }

  private openFilm(): FilmShop | undefined {
    const { document } = this.making;
    if (!this.film && document.footage) {
      this.film = new FilmShop(document, document.footage);
      this.film.requireCarried();
    }
    return this.film;
  }

  async moved(frame: number, eye: number | null, how: SeeingHow): Promise<Straight> {
    const film = this.openFilm();
    if (film) {
      const picture = await film.see(frame, eye, how);
      this.revealedShare = Math.max(this.revealedShare, film.revealedShare);
      return picture;
    }
    this.through ??= new MoveShop(this.making.document, this.making.rasters);
    return this.through.see(frame, eye, how);
  }

  async video(order: VideoOrder, frame: (n: number) => Straight | Promise<Straight>): Promise<void> {
    const { document, who, work, stored } = this.making;
    await makeVideo(
      {
        ...who,
        renderId: this.render,
        work,
        stored,
        hasAlpha: document.source.hasAlpha,
        ...(document.footage?.sound
          ? { sound: () => soundOf(document.source, document.footage!, footageRange(document.footage!)) }
          : {}),
        report: this.report,
        store: (...file) => this.store(...file),
      },
      order,
      frame,
    );
  }

  /** Ends what is being read. */
  async end(): Promise<void> {
    await this.film?.end();
  }

  readonly report = (share: number, step: string): Promise<void> => this.making.report(share * COUNTING_FROM, step);

  view(eye: number): Straight {
    const { document, rasters } = this.making;
    const view = renderView(sceneOf(document), rasters, eye);
    const share = view.revealedCount / (rasters.picture.width * rasters.picture.height);
    this.revealedShare = Math.max(this.revealedShare, share);
    const { frame } = document;
    const picture = unpremultiply(view.picture, document.source.hasAlpha);
    if (!frame) return picture;
    const { left, top, width, height } = frame;
    return cropPicture(picture, { left, top, right: left + width, bottom: top + height });
  }

  async picture(
    { stem, format, quality, share }: PictureOrder,
    make: () => Straight | Promise<Straight>,
  ): Promise<void> {
    const name = `${stem}.${EXTENSIONS[format]}`;
    const { stored, work, document } = this.making;
    if (stored.has(name)) return;
    const [from, to] = share;
    await this.report(from, `Rendering ${stem.replace(/[_-]/g, ' ')}`);
    const picture = await make();
    const path = join(work, name);
    await writePicture(path, picture, format, { alpha: document.source.hasAlpha, quality });
    await this.report(from + (to - from) * 0.8, `Storing ${name}`);
    await this.store(path, name, MIMES[format]);
    await rm(path);
  }

  async sheet({ stem, format, lens, eyes }: SheetOrder): Promise<void> {
    const name = `${stem}.${EXTENSIONS[format]}`;
    const { stored, work } = this.making;
    if (stored.has(name)) return;
    const out = join(work, name);
    const view = (n: number): Sharp => {
      const { width, height, data } = this.view(eyes[n]);
      return sharp(data as Uint8Array, { raw: { width, height, channels: 4 }, limitInputPixels: false });
    };
    await interlaceSheet(lens, this.handed, { view, format, out, dir: work, report: this.report });
    await this.store(out, name, MIMES[format]);
  }

  private async store(path: string, name: string, mime: string, place?: number): Promise<void> {
    await storeOutput(this.render, path, { name, mime, ...(place === undefined ? {} : { place }) });
    this.making.stored.add(name);
  }
}

async function finish(id: string, summary: Omit<RenderReport, 'files' | 'bytes'>): Promise<void> {
  await inTransaction(async (em) => {
    const [{ files, bytes }] = await query<{ files: string; bytes: string | null }>(
      em,
      `select count(*) as files, sum(m.size) as bytes from render_output o join media m on m.id = o.media_id
         where o.render_id = $1`,
      [id],
    );
    await dropPieces(em, id);
    const report: RenderReport = { ...summary, files: Number(files), bytes: Number(bytes ?? 0) };
    await em.nativeUpdate(
      Render,
      { id, state: 'running' },
      { state: 'done', progress: 1, step: 'Done', finishedAt: new Date(), report, error: null },
    );
  });
}
