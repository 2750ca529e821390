import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import sharp from 'sharp';
import { CoreError } from '@/core/error';
import { inspectPicture } from '@/server/media/inspect';
import { interlaceSheet } from '@/server/renders/interlaceSheet';
import { needed, number, readWords } from '../words';

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
  const lens = { widthMm, lpi, dpi, views: names.length, lensSwap: given['lens-swap'] === true };
  const dirOfViews = await mkdtemp(join(tmpdir(), 'cork-sheet-'));
  sharp.cache(false);
  sharp.concurrency(1);
  try {
    await interlaceSheet(lens, headers[0], {
      view: (n) => sharp(join(dir, names[n]), { failOn: 'error', sequentialRead: true }).autoOrient(),
      format: end === '.png' ? 'png' : 'tiff',
      out,
      dir: dirOfViews,
    });
  } finally {
    await rm(dirOfViews, { recursive: true, force: true });
  }
}
