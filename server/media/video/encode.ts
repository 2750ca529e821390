import { spawn, type ChildProcess } from 'node:child_process';
import { rename, rm, writeFile } from 'node:fs/promises';
import { CoreError } from '@/core/error';
import type { Picture8 } from '@/core/raster/picture';
import { planesOf } from '@/core/raster/planes420';
import type { VideoFormat } from '@/core/recipes';
import { rateOf } from '@/core/time/rate';
import { fileWords, joinWords, pieceWords, pipeWords, type VideoOptions } from './words';

/** A video that is being written, frame by frame. */
export interface VideoWriter {
  /** Takes one frame in the colours that were announced; done when the next may come. */
  frame(picture: Picture8): Promise<void>;
  /** Done when the file is whole. */
  end(): Promise<void>;
  /** Ends at once and leaves nothing behind. */
  abort(): Promise<void>;
}

export const VIDEO_MIMES: Record<VideoFormat, string> = { mp4: 'video/mp4', webm: 'video/webm', gif: 'image/gif' };

/**
 * Writes a video by FFmpeg. H.264 in MP4 (begins to play before it is whole), VP9 in WebM, GIF with a palette of its own frames.
 * @param piece a part of a video, to be joined with others by `joinVideo`
 * @throws CoreError `bad-size` where a side is odd and the format needs even ones; `no-video` where FFmpeg fails
 */
export function writeVideo(path: string, options: VideoOptions, piece = false): VideoWriter {
  const { width, height, format } = options;
  if (format !== 'gif' && (width % 2 === 1 || height % 2 === 1))
    throw new CoreError(
      'bad-size',
      `${format === 'mp4' ? 'H.264' : 'VP9'} needs even sides and the frames are ${width} × ${height} px. ${evenHint(width, height)}`,
    );
  // Whoever looks at the file finds it whole, or not at all.
  const part = `${path}.part`;
  const out = piece ? pieceWords(options) : fileWords(options);
  const run = spawn('ffmpeg', ['-v', 'error', '-y', ...pipeWords(options), ...out, part], {
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  let says = '';
  run.stderr.on('data', (text: Buffer) => {
    says = (says + text.toString()).slice(-2000);
  });
  const ended = endOf(run, path, () => says);
  // Asked for by whoever writes or ends; nobody may be waiting yet.
  ended.catch(() => undefined);
  run.stdin.on('error', () => undefined);
  let planes: Uint8Array | undefined;
  return {
    async frame(picture) {
      let pixels = picture.data;
      if (options.colours === 'ycbcr') pixels = planes = planesOf(picture, planes).data;
      const bytes = new Uint8Array(pixels.buffer, pixels.byteOffset, pixels.byteLength);
      if (run.stdin.destroyed) await ended;
      // Until all of it has gone: the next frame may come in the same bytes. Where the pipe breaks, what FFmpeg said
      // tells more.
      const gone = new Promise<void>((done) => {
        run.stdin.write(bytes, () => {
          done();
        });
      });
      await Promise.race([gone, ended]);
      if (run.stdin.destroyed) await ended;
    },
    async end() {
      run.stdin.end();
      await ended;
      await rename(part, path);
    },
    async abort() {
      run.kill('SIGKILL');
      await ended.catch(() => undefined);
      await rm(part, { force: true });
    },
  };
}

/**
 * Joins pieces of a video in their order: what is coded stays as it is; a GIF gets its palette now.
 * @throws CoreError `no-video`
 */
export async function joinVideo(
  path: string,
  pieces: readonly { readonly path: string; readonly frames: number }[],
  options: VideoOptions,
): Promise<void> {
  const { numerator, denominator } = rateOf(options.fps);
  const list = `${path}.txt`;
  // FFmpeg reads no other quote than this one within quotes.
  const quoted = (name: string): string => `'${name.replace(/'/g, "'\\''")}'`;
  const lines = pieces.map(
    (piece) => `file ${quoted(piece.path)}\nduration ${((piece.frames * denominator) / numerator).toFixed(6)}`,
  );
  await writeFile(list, `ffconcat version 1.0\n${lines.join('\n')}\n`);
  const part = `${path}.part`;
  const words = ['-v', 'error', '-y', '-f', 'concat', '-safe', '0', '-i', list, ...joinWords(options), part];
  const run = spawn('ffmpeg', words, { stdio: ['ignore', 'ignore', 'pipe'] });
  let says = '';
  run.stderr.on('data', (text: Buffer) => {
    says = (says + text.toString()).slice(-2000);
  });
  try {
    await endOf(run, path, () => says);
    await rename(part, path);
  } finally {
    await rm(part, { force: true });
    await rm(list, { force: true });
  }
}

const evenHint = (width: number, height: number): string =>
  `Choose ${width - (width % 2)} × ${height - (height % 2)} px, or GIF or PNG.`;

async function endOf(run: ChildProcess, path: string, says: () => string): Promise<void> {
  const code = await new Promise<number | null>((done, failed) => {
    run.on('error', failed);
    run.on('close', done);
  }).catch((error: unknown) => {
    throw new CoreError(
      'no-video',
      `FFmpeg could not be started: ${(error as Error).message}. It comes with Debian's package ffmpeg.`,
    );
  });
  if (code !== 0)
    throw new CoreError(
      'no-video',
      `${path} could not be written as video: ${says().trim().split('\n').pop() ?? 'FFmpeg ended'}.`,
    );
}
