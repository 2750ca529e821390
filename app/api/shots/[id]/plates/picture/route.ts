import { readReducedMatte } from '@/server/rasters/pyramid';
import { loadRevision } from '@/server/rasters/revisions';
import { shotState } from '@/server/shots/history';
import sharp from 'sharp';
import { z } from 'zod';
import { database } from '@/server/db/orm';
import { route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { Problem } from '@/server/http/problem';
import type { ShotDocument } from '@/core/shot/document';
import { isCarried } from '@/server/shots/carriedRasters';
import { inThread } from '@/server/threads/pool';
import { rasterWindow } from '@/server/media/decode';
import { namedSource } from '@/server/shots/namedSource';

/** A plate's own picture for its card: the source under a matte, trimmed to what it covers. A matte never changes. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const id = await idOf(context);
  const source = namedSource(request.url, await shotState(id));
  const window = windowOf(request.url, source);
  const matte = await matteOf(id, { name: new URL(request.url).searchParams.get('matte') ?? '', source, window });
  const picture = await sharp(await rasterWindow(source, window))
    .removeAlpha()
    .raw()
    .toBuffer();
  const rgba = Buffer.alloc(matte.length * 4);
  let left = window.width;
  let top = window.height;
  let right = 0;
  let bottom = 0;
  for (let i = 0; i < matte.length; i++) {
    const a = matte[i] >> 8;
    rgba[i * 4] = picture[i * 3];
    rgba[i * 4 + 1] = picture[i * 3 + 1];
    rgba[i * 4 + 2] = picture[i * 3 + 2];
    rgba[i * 4 + 3] = a;
    if (a < 8) continue;
    const x = i % window.width;
    const y = Math.floor(i / window.width);
    left = Math.min(left, x);
    right = Math.max(right, x + 1);
    top = Math.min(top, y);
    bottom = Math.max(bottom, y + 1);
  }
  const covered =
    right > left
      ? { left, top, width: right - left, height: bottom - top }
      : { left: 0, top: 0, width: window.width, height: window.height };
  const png = await sharp(rgba, { raw: { width: window.width, height: window.height, channels: 4 } })
    .extract(covered)
    .png()
    .toBuffer();
  return new Response(new Uint8Array(png), {
    headers: { 'content-type': 'image/png', 'cache-control': 'private, max-age=31536000, immutable' },
  });
});

interface Wanted {
  readonly name: string;
  readonly source: ShotDocument['source'];
  readonly window: ReturnType<typeof windowOf>;
}

/** A window of a matte, stored or carried, 16 bits. */
async function matteOf(id: string, { name, source, window }: Wanted): Promise<Uint16Array> {
  const { width, height } = source;
  if (isCarried(name)) {
    const order = { name, size: { width, height }, window, what: 'matte' } as const;
    return (await inThread('carriedWindow', order, { quickOn: id })).data;
  }
  const em = await database();
  const revision = await loadRevision(em, z.uuid().parse(name));
  if (revision.width !== width || revision.height !== height) throw Problem.notFound('This plate’s matte');
  return readReducedMatte(em, revision, window);
}
