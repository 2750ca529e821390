import { readdir } from 'node:fs/promises';
import type { ShotDocument } from '@/core/shot/document';
import { writeOpenRaster } from '../media/openRaster';
import { writePlates } from '../media/writePlates';
import { storedShot } from '../shots/platePixels';
import { task } from './task';

/** How all plates of a shot go out: a zip of the plates folder, the same trimmed, or an OpenRaster. */
export const PLATES_EXPORTS = ['zip', 'trimmed', 'ora'] as const;
export type PlatesExport = (typeof PLATES_EXPORTS)[number];

/** One file of what goes out, in its order. */
export interface OutEntry {
  readonly name: string;
  readonly from: string;
  readonly compress?: boolean;
}

/** Writes all plates of a shot into a folder. */
export const handOut = task<
  { readonly document: ShotDocument; readonly name: string; readonly form: PlatesExport; readonly dir: string },
  { readonly entries: readonly OutEntry[] }
>(async ({ document, name, form, dir }) => {
  const shot = await storedShot(document, name);
  if (form === 'ora') return { entries: await writeOpenRaster(dir, shot) };
  await writePlates(dir, shot, { trimmed: form === 'trimmed' });
  const files = (await readdir(dir)).sort();
  return { entries: files.map((file) => ({ name: file, from: file, compress: file.endsWith('.json') })) };
});
