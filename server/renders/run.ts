import type { ShotRasters } from '@/core/shot/rasters';
import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { Reveal } from '@/core/fill/revealMap';
import { ANAGLYPHS, anaglyph, type Anaglyph } from '@/core/packing/anaglyph';
import { sideBySide } from '@/core/packing/sideBySide';
import { planSheet } from '@/core/lenticular/pitch';
import { narrowed } from '@/core/raster/bits';
import { cropPicture } from '@/core/raster/crop';
import { isDeep, type Picture, type Picture8 } from '@/core/raster/picture';
import { premultiply, unpremultiply } from '@/core/raster/alpha';
import { renderView } from '@/core/view/renderView';
import { handedSize, type Recipe } from '@/core/shot/document';
import { eyePositions } from '@/core/stereo/parallax';
import { Render, type RenderReport } from '../db/entities';
import { database, inTransaction } from '../db/orm';
import { readRaster, sourceRaster } from '../media/decode';
import { storeFile } from '../media/store';
import { viewSizeInSheet, writeSheet, writeViewRows } from '../media/sheetFile';
import { EXTENSIONS, MIMES, writePicture, type PictureFormat } from '../media/writePicture';
import { shotFills, shotRasters } from '../shots/platePixels';

/** Thrown inside a render when its people stopped it, or another worker has it. */
export class Interrupted extends Error {}

/** Reports how far a render is; throws Interrupted where it shall end. */
export type Report = (progress: number, step: string) => Promise<void>;

/**
 * Makes what a render's recipe asks for and stores each file as soon as it is whole. Files that an earlier attempt has stored
 * are not made again, so a render that was cut off goes on where it stood.
 */
export async function runRender(render: Render, report: Report): Promise<void> {
  const began = performance.now();
  const work = await mkdtemp(join(tmpdir(), 'cork-render-'));
  try {
    await report(0, 'Reading the picture and its depth');
    const { source } = render.document;
    const em = await database();
    const stored = new Set(
      (await em.execute<{ name: string }[]>('select name from render_output where render_id = ?', [render.id])).map(
        (r) => r.name,
      ),
    );
    const picture = await readRaster(await sourceRaster(source), source.bits);
    if (source.hasAlpha) premultiply(picture);
    const job = new RenderJob(
      render,
      await shotRasters(render.document, picture),
      await shotFills(render.document),
      work,
      stored,
      report,
    );
    await job.make(render.recipe);
    const openPx = await job.openPx(render.recipe);
    await finish(render.id, job.summary(openPx, performance.now() - began));
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

/** Share of a render after which what is open is counted. */
const COUNTING_FROM = 0.95;

class RenderJob {
  private revealedShare = 0;
  private size = { width: 0, height: 0 };

  constructor(
    private readonly render: Render,
    private readonly rasters: ShotRasters<Picture>,
    private readonly fills: ReadonlyMap<string | null, Picture>,
    private readonly work: string,
    private readonly stored: Set<string>,
    private readonly report: Report,
  ) {}

  summary(openPx: number, milliseconds: number): Omit<RenderReport, 'files' | 'bytes'> {
    return { ...this.size, milliseconds: Math.round(milliseconds), revealedShare: this.revealedShare, openPx };
  }

  /** What the views of a recipe uncover behind nearer plates and nobody has filled; also of those that an earlier attempt has made. */
  async openPx(recipe: Recipe): Promise<number> {
    const { document } = this.render;
    if (document.plates.length === 0) return 0;
    const reveal = new Reveal(document, this.rasters, 1);
    for (const share of reveal.see(eyePositions(recipe.kind === 'pair' ? 2 : recipe.views)))
      await this.report(COUNTING_FROM + (1 - COUNTING_FROM) * share, 'Counting what is not filled');
    let open = 0;
    for (const { id, mask } of reveal.found(0)) {
      const fill = this.fills.get(id);
      for (let i = 0; i < mask.data.length; i++) if (mask.data[i] && !(fill && fill.data[i * 4 + 3] > 0)) open++;
    }
    return open;
  }

  async make(recipe: Recipe): Promise<void> {
    const { width, height } = handedSize(this.render.document);
    this.size = { width: recipe.kind === 'pair' && recipe.packing === 'side-by-side' ? width * 2 : width, height };
    if (recipe.kind === 'pair') await this.makePair(recipe);
    else if (recipe.kind === 'views') await this.makeViews(recipe);
    else await this.makeSheet(recipe);
  }

  private view(eye: number): Picture {
    const { document } = this.render;
    const view = renderView(document, this.rasters, eye, 1);
    this.revealedShare = Math.max(
      this.revealedShare,
      view.revealedCount / (this.rasters.picture.width * this.rasters.picture.height),
    );
    if (document.source.hasAlpha) unpremultiply(view.picture);
    const { frame } = document;
    return frame
      ? cropPicture(view.picture, {
          left: frame.left,
          top: frame.top,
          right: frame.left + frame.width,
          bottom: frame.top + frame.height,
        })
      : view.picture;
  }

  private async makePair(recipe: Extract<Recipe, { kind: 'pair' }>): Promise<void> {
    if (recipe.packing === 'left-and-right') {
      await this.file('left', recipe, [0.05, 0.5], () => this.view(-0.5));
      await this.file('right', recipe, [0.5, 1], () => this.view(0.5));
      return;
    }
    const name = recipe.packing === 'side-by-side' ? 'side-by-side' : `anaglyph-${recipe.packing}`;
    await this.file(name, recipe, [0.05, 1], async () => {
      const left = this.view(-0.5);
      await this.report(0.35, 'Rendering the right view');
      const right = this.view(0.5);
      await this.report(0.6, 'Packing');
      return isAnaglyph(recipe.packing)
        ? anaglyph(toEightBits(left), toEightBits(right), recipe.packing)
        : sideBySide(left, right);
    });
  }

  private async makeViews(recipe: Extract<Recipe, { kind: 'views' }>): Promise<void> {
    const eyes = eyePositions(recipe.views);
    for (let n = 0; n < eyes.length; n++) {
      await this.file(`view_${String(n + 1).padStart(3, '0')}`, recipe, [n / eyes.length, (n + 1) / eyes.length], () =>
        this.view(eyes[n]),
      );
    }
  }

  private async makeSheet(recipe: Extract<Recipe, { kind: 'sheet' }>): Promise<void> {
    const name = `sheet-${recipe.widthMm}mm-${recipe.lpi}lpi-${recipe.dpi}dpi.${EXTENSIONS[recipe.format]}`;
    const framed = handedSize(this.render.document);
    const whole = planSheet({ ...recipe, viewWidth: framed.width, viewHeight: framed.height });
    const viewSize = viewSizeInSheet(framed, whole.columns);
    const plan = planSheet({ ...recipe, viewWidth: viewSize.width, viewHeight: viewSize.height });
    this.size = { width: plan.columns, height: plan.rows };
    if (this.stored.has(name)) return;
    const eyes = eyePositions(recipe.views);
    const paths: string[] = [];
    for (let n = 0; n < eyes.length; n++) {
      await this.report((0.7 * n) / eyes.length, `Rendering view ${n + 1} of ${eyes.length}`);
      const view = this.view(eyes[n]);
      const path = join(this.work, `view_${n}.v`);
      const image = sharp(view.data as Uint8Array, {
        raw: { width: view.width, height: view.height, channels: 4 },
        limitInputPixels: false,
      });
      await writeViewRows(image, viewSize.width, viewSize.height, path);
      paths.push(path);
    }
    const out = join(this.work, 'sheet');
    await writeSheet(plan, paths, out, recipe.format, (share) =>
      this.report(0.7 + 0.2 * share, 'Interlacing the sheet'),
    );
    await this.store(out, name, MIMES[recipe.format]);
  }

  private async file(
    stem: string,
    recipe: { format: PictureFormat; quality: number },
    [from, to]: readonly [number, number],
    make: () => Picture | Promise<Picture>,
  ): Promise<void> {
    const name = `${stem}.${EXTENSIONS[recipe.format]}`;
    if (this.stored.has(name)) return;
    await this.report(from * COUNTING_FROM, `Rendering ${stem.replace(/[_-]/g, ' ')}`);
    const picture = await make();
    const path = join(this.work, name);
    await writePicture(path, picture, recipe.format, {
      alpha: this.render.document.source.hasAlpha,
      quality: recipe.quality,
    });
    await this.report((from + (to - from) * 0.8) * COUNTING_FROM, `Storing ${name}`);
    await this.store(path, name, MIMES[recipe.format]);
    await rm(path);
  }

  /** One transaction: the file and its place in the list, or nothing. */
  private async store(path: string, name: string, mime: string): Promise<void> {
    if ((await stat(path)).size === 0) throw new Error(`${name} came out empty.`);
    await inTransaction(async (em) => {
      const media = await storeFile(em, path, name, mime);
      await em.execute(
        'insert into render_output (render_id, n, name, media_id) select ?, coalesce(max(n) + 1, 0), ?, ? from render_output where render_id = ?',
        [this.render.id, name, media.id, this.render.id],
      );
    });
    this.stored.add(name);
  }
}

async function finish(id: string, summary: Omit<RenderReport, 'files' | 'bytes'>): Promise<void> {
  await inTransaction(async (em) => {
    const [{ files, bytes }] = await em.execute<{ files: string; bytes: string | null }[]>(
      'select count(*) as files, sum(m.size) as bytes from render_output o join media m on m.id = o.media_id where o.render_id = ?',
      [id],
    );
    const report: RenderReport = { ...summary, files: Number(files), bytes: Number(bytes ?? 0) };
    await em.nativeUpdate(
      Render,
      { id, state: 'running' },
      { state: 'done', progress: 1, step: 'Done', finishedAt: new Date(), report, error: null },
    );
  });
}

function isAnaglyph(packing: string): packing is Anaglyph {
  return (ANAGLYPHS as readonly string[]).includes(packing);
}

function toEightBits(picture: Picture): Picture8 {
  return isDeep(picture) ? { width: picture.width, height: picture.height, data: narrowed(picture.data) } : picture;
}
