import { join } from 'node:path';
import type { Sharp } from 'sharp';
import type { Size } from '@/core/kind';
import { sheetFor, type SheetLens } from '@/core/lenticular/sheetFor';
import { writeSheet, writeViewRows } from '../media/sheetFile';

/** What a sheet is interlaced of, and where it goes. */
export interface Interlacing {
  /** Each view in its turn, leftmost eye first. */
  view(n: number): Sharp | Promise<Sharp>;
  readonly format: 'tiff' | 'png';
  readonly out: string;
  /** A folder for what is needed on the way. */
  readonly dir: string;
  /** @default tells nobody */
  report?(share: number, step: string): Promise<void>;
}

/** Share of the work that rendering takes. */
const RENDERING = 0.7;
const INTERLACING = 0.2;

/** Unpacks the views one after another and interlaces them by rows, so that memory stays small however many there are. */
export async function interlaceSheet(lens: SheetLens, handed: Size, interlacing: Interlacing): Promise<void> {
  const { plan, viewSize } = sheetFor(lens, handed);
  const { view, format, out, dir, report } = interlacing;
  const paths: string[] = [];
  for (let n = 0; n < lens.views; n++) {
    await report?.((RENDERING * n) / lens.views, `Rendering view ${n + 1} of ${lens.views}`);
    const path = join(dir, `view_${n}.v`);
    await writeViewRows(await view(n), viewSize, path);
    paths.push(path);
  }
  await writeSheet(plan, paths, {
    out,
    format,
    pause: (share) => report?.(RENDERING + INTERLACING * share, 'Interlacing the sheet'),
  });
}
