import { writePlates } from '@/server/media/writePlates';
import { withShot } from '../house';
import { needed, readWords } from '../words';

/** Hands out a stored shot's plates as a folder: plates.json, and picture, matte, depth and fill of each. */
export async function plates(words: readonly string[]): Promise<void> {
  const given = readWords(words, { shot: { type: 'string' }, out: { type: 'string' } });
  const id = needed('shot', given.shot);
  const out = needed('out', given.out);
  await withShot(id, async ({ document, name }) => {
    const { storedShot } = await import('@/server/shots/platePixels');
    await writePlates(out, await storedShot(document, name));
  });
}
