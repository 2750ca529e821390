import { shotState } from '@/server/shots/history';
import { route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { rasterWindow } from '@/server/media/decode';
import { namedSource } from '@/server/shots/namedSource';

/**
 * A window of a picture of this shot as PNG. The address names which: an extended canvas is another one, so that the
 * browser may keep each
 * for ever.
 */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const source = namedSource(request.url, await shotState(await idOf(context)));
  const window = windowOf(request.url, source);
  const png = await rasterWindow(source, window);
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'cache-control': 'private, max-age=31536000, immutable',
      'x-size': String(png.length),
    },
  });
});
