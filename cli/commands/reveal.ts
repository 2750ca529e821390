import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { revealMap } from '@/core/fill/revealMap';
import { eyePositions } from '@/core/stereo/parallax';
import { sceneOf } from '@/core/scene/sceneOf';
import { readPlates } from '@/server/media/readPlates';
import { fileStem } from '@/server/media/writePlates';
import { writeMatte } from '@/server/media/writePicture';
import { needed, number, oneOf, readWords, WrongWords } from '../words';

/** What the views uncover of every plate: one mask each (white must be filled), and reveal.json with the counts. */
export async function reveal(words: readonly string[]): Promise<void> {
  const given = readWords(words, {
    plates: { type: 'string' },
    near: { type: 'string' },
    far: { type: 'string' },
    'source-eye': { type: 'string' },
    views: { type: 'string' },
    out: { type: 'string' },
  });
  const dir = needed('plates', given.plates);
  const out = needed('out', given.out);
  const budget = { nearPx: number('near', given.near), farPx: number('far', given.far) };
  const count = number('views', given.views, 2);
  if (!Number.isInteger(count) || count < 2 || count > 200)
    throw new WrongWords(`--views takes a whole number from 2 to 200, not '${given.views}'.`);
  const eye =
    given['source-eye'] === undefined
      ? undefined
      : oneOf('source-eye', given['source-eye'], ['left', 'centre', 'right'] as const);
  const { list, rasters, ids } = await readPlates(dir);
  const [back, ...others] = list.plates;
  const document = {
    budget,
    sourceEye: eye ?? list.sourceEye,
    swapEyes: false,
    tearPx: list.tearPx,
    depth: { near: back.near, far: back.far },
    source: { width: list.width },
    plates: others.map(({ near, far, hidden }, n) => ({ id: ids[n], matte: ids[n], hidden, depth: { near, far } })),
  };
  await mkdir(out, { recursive: true });
  const found = revealMap(sceneOf(document), rasters, eyePositions(count));
  const entries = [];
  for (const [n, plate] of list.plates.entries()) {
    const reveal = found.find((f) => f.id === (n === 0 ? null : ids[n - 1]));
    const mask = `${String(n).padStart(2, '0')}-${fileStem(plate.name)}-reveal.png`;
    await writeMatte(
      join(out, mask),
      reveal?.mask ?? { width: list.width, height: list.height, data: new Uint8Array(list.width * list.height) },
    );
    entries.push({
      name: plate.name,
      mask,
      revealedPx: reveal?.count ?? 0,
      tornPx: reveal?.torn ?? 0,
      plateShare: reveal && reveal.covers > 0 ? Math.round((reveal.count / reveal.covers) * 1e6) / 1e6 : 0,
    });
  }
  await writeFile(
    join(out, 'reveal.json'),
    `${JSON.stringify({ version: 1, width: list.width, height: list.height, views: count, nearPx: budget.nearPx, farPx: budget.farPx, sourceEye: document.sourceEye, plates: entries }, null, 2)}\n`,
  );
}
