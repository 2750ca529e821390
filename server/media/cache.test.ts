import { existsSync, mkdirSync, mkdtempSync, utimesSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { forgetOldest, used } from './cache';

const HOUR_S = 3600;
let dir: string;

beforeEach(() => {
  process.env.CORK_CACHE_DIR = mkdtempSync(join(tmpdir(), 'cork-cache-test-'));
  dir = join(process.env.CORK_CACHE_DIR, 'source');
  mkdirSync(dir);
});

/** A file of `bytes` that was used so many hours ago. */
function file(name: string, bytes: number, hoursAgo: number): string {
  const path = join(dir, name);
  writeFileSync(path, Buffer.alloc(bytes));
  const at = Date.now() / 1000 - hoursAgo * HOUR_S;
  utimesSync(path, at, at);
  return path;
}

describe('the cache on disk', () => {
  test('forgets what was not used for longest until its limit holds, and no more', async () => {
    const oldest = file('a', 400, 9);
    const older = file('b', 400, 5);
    const newer = file('c', 400, 2);
    expect(await forgetOldest('source', 900)).toEqual([oldest]);
    expect([oldest, older, newer].map((path) => existsSync(path))).toEqual([false, true, true]);
    expect(await forgetOldest('source', 900)).toEqual([]);
  });

  test('keeps what was used just now, by its use and not by its age', async () => {
    const oldest = file('a', 400, 9);
    const older = file('b', 400, 5);
    await used(oldest);
    expect(await forgetOldest('source', 0)).toEqual([older]);
    expect(existsSync(oldest)).toBe(true);
  });
});
