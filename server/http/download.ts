import { Readable } from 'node:stream';
import { mediaInfo, readMedia } from '../media/store';
import { Problem } from './problem';

/** A stored file as a stream; a range where one is asked for (RFC 9110, one range). */
export async function downloadMedia(request: Request, mediaId: string, name?: string): Promise<Response> {
  const info = await mediaInfo(mediaId);
  const range = /^bytes=(\d*)-(\d*)$/.exec(request.headers.get('range') ?? '');
  let from = 0;
  let to = info.size;
  let status = 200;
  if (range && (range[1] || range[2])) {
    from = range[1] ? Number(range[1]) : Math.max(0, info.size - Number(range[2]));
    to = range[1] && range[2] ? Math.min(info.size, Number(range[2]) + 1) : info.size;
    status = 206;
    if (from >= to)
      throw new Problem(416, 'bad-range', `The file has ${info.size} bytes; the range asked for lies outside.`);
  }
  const headers = new Headers({
    'content-type': info.mime,
    'content-disposition': attachment(name ?? info.fileName),
    'accept-ranges': 'bytes',
    'x-size': String(to - from),
    'cache-control': 'private, no-cache',
    etag: `"${info.sha256.toString('hex')}"`,
  });
  if (status === 206) headers.set('content-range', `bytes ${from}-${to - 1}/${info.size}`);
  return new Response(Readable.toWeb(readMedia(mediaId, from, to)) as ReadableStream, { status, headers });
}

/** Content-Disposition with the name in both spellings (RFC 6266). */
export function attachment(name: string): string {
  return `attachment; filename="${name.replace(/[^\x20-\x7e]|["\\]/g, '_')}"; filename*=UTF-8''${encodeURIComponent(name)}`;
}
