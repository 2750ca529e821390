import { randomUUID } from 'node:crypto';
import { readdir, utimes, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { HALVINGS } from '@/core/raster/halvings';
import { cacheDir, LIMITS } from '@/server/config';
import { readRasterEightBits } from '@/server/media/decode';
import { bringIn } from '@/server/shots/bringIn';
import { shotState } from '@/server/shots/history';
import { scene } from '../support/scene';

const stage = scene('Incoming');
const width = 3000;
const height = 2001;
const incoming = async (): Promise<string[]> =>
  (await readdir(cacheDir('source'))).filter((name) => name.startsWith('incoming-'));

describe('a picture that is brought in', () => {
  test('has its halved copies when its shot appears, where it is large', async () => {
    const path = await stage.file('large.png', width, height, '#6a8c4e');
    const { mediaId } = (await shotState(await bringIn(stage.project, path, 'large.png'))).document.source;
    let size = { width, height };
    for (let level = 0; level <= HALVINGS; level++) {
      const name = level === 0 ? `${mediaId}.v` : `${mediaId}.half-${level}.v`;
      const { data, ...found } = await readRasterEightBits(join(cacheDir('source'), name));
      expect(found).toMatchObject(size);
      expect([...data.subarray(0, 4)]).toEqual([0x6a, 0x8c, 0x4e, 255]);
      size = { width: Math.ceil(size.width / 2), height: Math.ceil(size.height / 2) };
    }
    expect(await incoming()).toEqual([]);
  });

  test('makes room for itself where the cache is full', async () => {
    const old = join(cacheDir('source'), 'old.v');
    await writeFile(old, 'not used for long');
    const before = new Date(Date.now() - 3_600_000);
    await utimes(old, before, before);
    const limits = LIMITS as { cacheBytes: number };
    const { cacheBytes } = limits;
    limits.cacheBytes = 1000;
    try {
      await bringIn(stage.project, await stage.file('small.png', 30, 20, '#6a8c4e'), 'small.png');
    } finally {
      limits.cacheBytes = cacheBytes;
    }
    expect(await readdir(cacheDir('source'))).not.toContain('old.v');
  });

  test('leaves nothing behind where it is refused', async () => {
    const path = await stage.file('nowhere.png', width, height, '#204060');
    await expect(bringIn(randomUUID(), path, 'nowhere.png')).rejects.toThrow('This project');
    expect(await incoming()).toEqual([]);
  });
});
