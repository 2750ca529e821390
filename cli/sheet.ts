import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import { planSheet } from '@/core/lenticular/pitch';
import { inspectPicture } from '@/server/media/inspect';
import { viewSizeInSheet, writeSheet, writeViewRows } from '@/server/media/sheetFile';
import { needed, number, readWords } from './words';

/** Interlaces the views of a folder (in the order of their names, leftmost eye first) for a lens sheet. */
export async function sheet(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    views: { type: 'string' },
    lpi: { type: 'string' },
    dpi: { type: 'string' },
    'width-mm': { type: 'string' },
    'lens-swap': { type: 'boolean' },
    out: { type: 'string' },
  });
  const dir = needed('views', given.views);
  const out = needed('out', given.out);
  const lpi = number('lpi', given.lpi);
  const dpi = number('dpi', given.dpi);
  const widthMm = number('width-mm', given['width-mm']);
  const end = extname(out).toLowerCase();
  if (end !== '.png' && end !== '.tif' && end !== '.tiff')
    throw new CoreError('unknown-format', `${out}: a sheet is written as .tif or .png.`);
  const found = (await readdir(dir)).filter((f) => /\.(png|jpe?g|tiff?|webp|avif)$/i.test(f));
  // left and right are a pair, whatever the alphabet says; numbered views sort as numbers.
  const names =
    found.length === 2 && found.some((f) => /^left\./.test(f)) && found.some((f) => /^right\./.test(f))
      ? found.sort()
      : found.sort((a, b) => a.localeCompare(b, 'en', { numeric: true }));
  if (names.length < 2)
    throw new CoreError(
      'too-few-views',
      `${dir} holds ${names.length} ${names.length === 1 ? 'picture' : 'pictures'}; a sheet needs at least 2 views.`,
    );
  const headers = await Promise.all(names.map((n) => inspectPicture(join(dir, n), n)));
  const odd = headers.findIndex((h) => h.width !== headers[0].width || h.height !== headers[0].height);
  if (odd > 0)
    throw new CoreError(
      'size-differs',
      `${names[0]} is ${headers[0].width} × ${headers[0].height} px but ${names[odd]} is ${headers[odd].width} × ${headers[odd].height} px. All views must have the same size.`,
    );
  const spec = {
    widthMm,
    lpi,
    dpi,
    views: names.length,
    lensSwap: given['lens-swap'] === true,
    viewWidth: headers[0].width,
    viewHeight: headers[0].height,
  };
  const size = viewSizeInSheet(headers[0], planSheet(spec).columns);
  const plan = planSheet({ ...spec, viewWidth: size.width, viewHeight: size.height });
  const work = await mkdtemp(join(tmpdir(), 'cork-sheet-'));
  // Views are unpacked one after another and read back by rows, so memory stays small however many there are.
  sharp.cache(false);
  sharp.concurrency(1);
  try {
    const paths: string[] = [];
    for (const [n, name] of names.entries()) {
      const path = join(work, `${n}.v`);
      await writeViewRows(
        sharp(join(dir, name), { failOn: 'error', sequentialRead: true }).autoOrient(),
        size.width,
        size.height,
        path,
      );
      paths.push(path);
    }
    await writeSheet(plan, paths, out, end === '.png' ? 'png' : 'tiff');
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}
