import { closeSync, openSync, readSync } from 'node:fs';
import type { Sharp } from 'sharp';
import { interlaceRows } from '@/core/lenticular/interlace';
import type { SheetPlan } from '@/core/lenticular/pitch';
import { pngRows } from './pngRows';
import { tiffRows } from './tiffRows';

/**
 * Writes a view as plain RGB rows, from which the sheet reads row by row: libvips' own file format, 64 bytes of header and then
 * the pixels. It is streamed; nothing of the view stays in memory. Transparent parts become white, as paper is.
 */
export async function writeViewRows(
  view: Sharp,
  { width, height }: { readonly width: number; readonly height: number },
  path: string,
): Promise<void> {
  const { channels } = await view
    .resize(width, height, { fit: 'fill', kernel: 'lanczos3' })
    .flatten({ background: '#ffffff' })
    .toColourspace('srgb')
    .toFile(path);
  if (channels !== 3) throw new Error(`A view has ${channels} channels where red, green and blue were wanted.`);
}

const VIEW_HEADER_BYTES = 64;

export interface SheetTarget {
  readonly out: string;
  readonly format: 'tiff' | 'png';
  /** Awaited now and then, so that a long sheet can report progress and be stopped. @default not at all */
  pause?(share: number): Promise<void> | undefined;
}

/**
 * Interlaces view files (as writeViewRows writes them, in the plan's view size, leftmost eye first) into a TIFF or PNG, by rows.
 */
export async function writeSheet(
  plan: SheetPlan,
  viewPaths: readonly string[],
  { out, format, pause }: SheetTarget,
): Promise<void> {
  const writer = (format === 'tiff' ? tiffRows : pngRows)(out, plan.columns, plan.rows, plan.dpi);
  const files = viewPaths.map((p) => openSync(p, 'r'));
  const rowBytes = plan.viewWidth * 3;
  try {
    let y = 0;
    for (const row of interlaceRows(plan, (view, line, into) => {
      readSync(files[view], into, 0, rowBytes, VIEW_HEADER_BYTES + line * rowBytes);
    })) {
      await writer.write(row);
      if (pause && ++y % 256 === 0) await pause(y / plan.rows);
    }
    await writer.end();
  } finally {
    files.forEach(closeSync);
  }
}
