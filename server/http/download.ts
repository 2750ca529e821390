import { Readable } from 'node:stream';
import contentDisposition from 'content-disposition';
import parseRange from 'range-parser';
import { mediaInfo, readMedia } from '../media/store';
import { Problem } from './problem';

/** A stored file as a stream; a range where one is asked for (RFC 9110, one range). */
export async function downloadMedia(request: Request, mediaId: string, name?: string): Promise<Response> {
  const info = await mediaInfo(mediaId);
  const { from, to, partial } = rangeOf(request, info.size);
  const headers = new Headers({
    'content-type': info.mime,
    'content-disposition': attachment(name ?? info.fileName),
    'accept-ranges': 'bytes',
    'x-size': String(to - from),
    'cache-control': 'private, no-cache',
    etag: `"${info.sha256.toString('hex')}"`,
  });
  if (partial) headers.set('content-range', `bytes ${from}-${to - 1}/${info.size}`);
  return new Response(Readable.toWeb(readMedia(mediaId, from, to)) as ReadableStream, {
    status: partial ? 206 : 200,
    headers,
  });
}

/** Which bytes [from, to) are asked for: one range, or all of them. @throws Problem `bad-range` */
function rangeOf(request: Request, size: number): { from: number; to: number; partial: boolean } {
  const whole = { from: 0, to: size, partial: false };
  const asked = request.headers.get('range');
  if (asked === null) return whole;
  const ranges = parseRange(size, asked, { combine: true });
  if (ranges === -1)
    throw new Problem(416, 'bad-range', `The file has ${size} bytes; the range asked for lies outside.`);
  // What is no range of bytes, and several at once, may be answered by the whole (RFC 9110, 14.2).
  if (ranges === -2 || ranges.type !== 'bytes' || ranges.length !== 1) return whole;
  return { from: ranges[0].start, to: ranges[0].end + 1, partial: true };
}

/** Content-Disposition with the name in both spellings (RFC 6266). */
export const attachment = (name: string): string =>
  contentDisposition(name, { fallback: name.replace(/[^\x20-\x7e]|["\\]/g, '_') });
