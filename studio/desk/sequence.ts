import { Zip, ZipPassThrough } from 'fflate';

/** What of a file's name comes before and after its last number. */
function partsOf(name: string): { readonly before: string; readonly after: string } | undefined {
  const found = /^(.*?)(\d+)(\D*)$/.exec(name);
  return found ? { before: found[1], after: found[3] } : undefined;
}

/** Fewer numbered pictures are single ones. */
const FEWEST = 5;

/** True for pictures whose names differ by a number alone: they may be the frames of one film. */
export function isSequence(files: readonly Pick<File, 'name'>[]): boolean {
  if (files.length < FEWEST) return false;
  const first = partsOf(files[0].name);
  if (!first || !/\.(png|jpe?g|tiff?|webp|avif)$/i.test(files[0].name)) return false;
  return files.every(({ name }) => {
    const parts = partsOf(name);
    return parts?.before === first.before && parts.after === first.after;
  });
}

/** What a sequence is called: what its files' names begin with. */
export const sequenceName = (files: readonly Pick<File, 'name'>[]): string =>
  (partsOf(files[0].name)?.before ?? '').replace(/[\s._-]+$/, '') || 'Sequence';

/** Pictures in one zip, stored as they are: their bytes go through, and lie where the browser keeps large things. */
export async function zipOf(files: readonly File[], onProgress: (share: number) => void): Promise<File> {
  const parts: BlobPart[] = [];
  let failed: Error | null = null;
  const zip = new Zip((error, piece) => {
    if (error) failed = error;
    else parts.push(new Blob([new Uint8Array(piece)]));
  });
  for (const [n, file] of files.entries()) {
    const entry = new ZipPassThrough(file.name);
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
    if (failed) throw failed as Error;
    onProgress((n + 1) / files.length);
  }
  zip.end();
  return new File(parts, `${sequenceName(files)}.zip`, { type: 'application/zip' });
}
