import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { unlink } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { cacheDir, LIMITS } from '../config';
import { Problem } from '../http/problem';
import { isFloatFile } from './floatFile';
import { sniffFootage } from './footage/sniffFootage';
import { sniff } from './inspect';

/** A file that has arrived whole and lies in a temporary place; `remove` it when done. */
export interface Arrived {
  readonly path: string;
  readonly fileName: string;
  readonly zip: boolean;
  remove(): Promise<void>;
}

const isZip = (head: Buffer): boolean => head.toString('latin1', 0, 4) === 'PK\x03\x04';

/** What may come beside pictures. */
interface Accepted {
  readonly zip?: boolean;
  readonly floats?: boolean;
  readonly footage?: boolean;
}

/** What can be brought in, as a sentence. */
function readable({ zip, floats, footage }: Accepted): string {
  return [
    'PNG, JPEG, WebP, AVIF and TIFF can be brought in',
    zip ? ', OpenRaster, and a zip of plates' : '',
    floats ? ', OpenEXR and portable float maps' : '',
    footage ? ', and moving pictures: MP4, MOV, WebM, MKV, AVI, GIF, animated PNG and WebP,' : '',
    footage ? ' and a zip of numbered pictures' : '',
    '.',
  ].join('');
}

/**
 * Streams a request's body to disk. Size and time are limited while it arrives, and a file that announces no picture
 * in its
 * first bytes is refused without waiting for the rest.
 * @param accept zip: a zip may come too
 * @throws Problem too-large, too-slow, not-a-picture, cut-off
 */
export async function receiveFile(request: Request, accept: Accepted = {}): Promise<Arrived> {
  const fileName = cleanName(request.headers.get('x-file-name'));
  const announced = request.headers.get('content-length');
  // What a file is its first bytes say; only moving pictures may be larger than others.
  let most: number = accept.footage ? LIMITS.footageBytes : LIMITS.bytes;
  if (announced !== null && Number(announced) > most) throw tooLarge(fileName, most);
  if (!request.body)
    throw new Problem(422, 'empty', `${fileName} is empty (0 bytes). Export it again and bring in the new file.`);
  const path = join(cacheDir('incoming'), randomUUID());
  const remove = async (): Promise<void> => {
    await unlink(path).catch(() => undefined);
  };
  let received = 0;
  let zip = false;
  const check = new Transform({
    transform(piece: Buffer, _encoding, done) {
      if (received === 0) zip = isZip(piece);
      if (
        received === 0 &&
        piece.length >= 12 &&
        !sniff(piece) &&
        !(zip && accept.zip) &&
        !(accept.floats && isFloatFile(piece)) &&
        !(accept.footage && (zip || sniffFootage(piece)))
      ) {
        done(
          new Problem(415, 'not-a-picture', `${fileName} is not a picture that can be read here. ${readable(accept)}`),
        );
        return;
      }
      if (received === 0 && !zip && !sniffFootage(piece)) most = LIMITS.bytes;
      received += piece.length;
      if (Math.max(received, Number(announced ?? 0)) > most) done(tooLarge(fileName, most));
      else done(null, piece);
    },
  });
  const limit = AbortSignal.timeout(LIMITS.uploadMs);
  try {
    await pipeline(
      Readable.fromWeb(request.body as Parameters<typeof Readable.fromWeb>[0]),
      check,
      createWriteStream(path),
      { signal: limit },
    );
  } catch (error) {
    await remove();
    if (error instanceof Problem) throw error;
    if (limit.aborted)
      throw new Problem(
        408,
        'too-slow',
        `${fileName} took longer than ${LIMITS.uploadMs / 60000} minutes to arrive, so it was not brought in.`,
      );
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      throw new Problem(
        507,
        'disk-full',
        `There is no room on the server’s disk for ${fileName}. Free some space and try again.`,
      );
    throw new Problem(
      400,
      'cut-off',
      `${fileName} did not arrive whole: the connection broke after ${received} bytes. Try again.`,
    );
  }
  if (announced !== null && received !== Number(announced)) {
    await remove();
    throw new Problem(
      400,
      'cut-off',
      `${fileName} did not arrive whole: ${received} of ${announced} bytes. Try again.`,
    );
  }
  return { path, fileName, zip, remove };
}

function tooLarge(fileName: string, most: number): Problem {
  return new Problem(
    413,
    'too-large',
    `${fileName} is larger than ${most / 1e6} MB, the largest file that can be brought in. Save it compressed, or smaller.`,
  );
}

/** The file's own name without folders or control characters, at most 200 letters. */
export function cleanName(header: string | null): string {
  let name = '';
  try {
    name = decodeURIComponent(header ?? '');
  } catch {
    name = '';
  }

  name = name
    .replace(/^.*[\\/]/, '')
    .replace(/[\u0000-\u001f\u007f]/g, '')
    .trim()
    .slice(0, 200);
  return name || 'picture';
}
