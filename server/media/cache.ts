import { readdir, stat, unlink, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { cacheDir, LIMITS } from '../config';

// What lies on disk can be made again at any time; it has a limit, and what was not used for longest is forgotten first.

/** What was used so lately is not forgotten: somebody may be reading it, ms. */
const IN_USE_MS = 60_000;

/** Says that a file of the cache was used just now. */
export async function used(path: string): Promise<void> {
  const now = new Date();
  await utimes(path, now, now).catch(() => undefined);
}

/**
 * Forgets what was not used for longest, until a folder of the cache holds no more than its limit. @returns what was
 * forgotten
 */
export async function forgetOldest(folder: string, limitBytes: number = LIMITS.cacheBytes): Promise<string[]> {
  const dir = cacheDir(folder);
  const files = [];
  for (const name of await readdir(dir)) {
    const path = join(dir, name);
    const found = await stat(path).catch(() => undefined);
    if (found?.isFile()) files.push({ path, bytes: found.size, usedMs: found.mtimeMs });
  }
  let total = files.reduce((sum, { bytes }) => sum + bytes, 0);
  const forgotten: string[] = [];
  for (const { path, bytes, usedMs } of files.sort((a, b) => a.usedMs - b.usedMs)) {
    if (total <= limitBytes || Date.now() - usedMs < IN_USE_MS) break;
    await unlink(path).catch(() => undefined);
    total -= bytes;
    forgotten.push(path);
  }
  return forgotten;
}
