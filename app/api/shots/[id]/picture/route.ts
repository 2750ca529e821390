import { shotState } from '@/server/shots/history';
import { route } from '@/server/http/guard';
import { idOf, windowOf } from '@/server/http/params';
import { rasterWindow, sourceRaster } from '@/server/media/decode';

/** A window of the source as PNG. A source never changes, so the browser may keep it. */
export const GET = route<{ params: Promise<{ id: string }> }>(async (request, context) => {
  const {
    document: { source },
  } = await shotState(await idOf(context));
  const window = windowOf(request.url, source);
  const png = await rasterWindow(await sourceRaster(source), window, window.width, window.height);
  return new Response(new Uint8Array(png), {
    headers: {
      'content-type': 'image/png',
      'cache-control': 'private, max-age=31536000, immutable',
      'x-size': String(png.length),
    },
  });
});
