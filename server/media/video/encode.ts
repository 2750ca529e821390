import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { rename, rm } from 'node:fs/promises';
import { CoreError } from '@/core/error';
import type { Size } from '@/core/kind';
import type { VideoFormat } from '@/core/recipes';
import { rateOf } from '@/core/time/rate';

export interface VideoOptions extends Size {
  readonly format: VideoFormat;
  readonly fps: number;
  /** 0 smallest to 100 best. @default 80 */
  readonly quality?: number;
  /** How two eyes share a frame, so that players know. @default one eye */
  readonly packing?: string;
}

/** A video that is being written, frame by frame. */
export interface VideoWriter {
  /** Takes one frame, RGBA of 8 bits; done when the next may come. */
  frame(pixels: Uint8Array | Uint8ClampedArray): Promise<void>;
  /** Done when the file is whole. */
  end(): Promise<void>;
  /** Ends at once and leaves nothing behind. */
  abort(): Promise<void>;
}

export const VIDEO_MIMES: Record<VideoFormat, string> = { mp4: 'video/mp4', webm: 'video/webm', gif: 'image/gif' };

/** Colours as every player takes them: BT.709 with limited range, written into the file too. */
const BT709 = [
  '-vf',
  'scale=out_color_matrix=bt709:out_range=tv',
  '-colorspace',
  'bt709',
  '-color_primaries',
  'bt709',
  '-color_trc',
  'bt709',
  '-color_range',
  'tv',
];

/**
 * Writes a video by FFmpeg. H.264 in MP4 (begins to play before it is whole), VP9 in WebM, GIF with a palette of its own frames.
 * @throws CoreError `bad-size` where a side is odd and the format needs even ones; `no-video` where FFmpeg fails
 */
export function writeVideo(path: string, options: VideoOptions): VideoWriter {
  const { width, height, format, fps, quality = 80, packing = '' } = options;
  if (format !== 'gif' && (width % 2 === 1 || height % 2 === 1))
    throw new CoreError(
      'bad-size',
      `${format === 'mp4' ? 'H.264' : 'VP9'} needs even sides and the frames are ${width} × ${height} px. ${evenHint(width, height)}`,
    );
  const { numerator, denominator } = rateOf(fps);
  const input = [
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgba',
    '-s',
    `${width}x${height}`,
    '-r',
    `${numerator}/${denominator}`,
    '-i',
    'pipe:0',
  ];
  // Whoever looks at the file finds it whole, or not at all.
  const part = `${path}.part`;
  const run = spawn('ffmpeg', ['-v', 'error', '-y', ...input, ...wordsOf(format, quality, packing), part], {
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
  return {
    async frame(pixels) {
      const bytes = new Uint8Array(pixels.buffer, pixels.byteOffset, pixels.byteLength);
      if (run.stdin.destroyed) await ended;
      // Where the pipe breaks, what FFmpeg said tells more.
      if (!run.stdin.write(bytes)) await Promise.race([once(run.stdin, 'drain').catch(() => ended), ended]);
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

const evenHint = (width: number, height: number): string =>
  `Choose ${width - (width % 2)} × ${height - (height % 2)} px, or GIF or PNG.`;

/** H.264's frame packing SEI (ITU-T H.264, Annex D) and Matroska's StereoMode (RFC 9559). */
const SHARED: Readonly<Record<string, { readonly h264: string; readonly matroska: string }>> = {
  'side-by-side': { h264: '3', matroska: 'left_right' },
  'over-under': { h264: '4', matroska: 'top_bottom' },
};

function wordsOf(format: VideoFormat, quality: number, packing: string): string[] {
  const shared = SHARED[packing];
  switch (format) {
    case 'mp4': {
      // 100 is hardly told from the source (crf 12), 0 is coarse (crf 38).
      const crf = Math.round(38 - 0.26 * quality);
      return [
        ...BT709,
        '-c:v',
        'libx264',
        '-preset',
        'medium',
        '-crf',
        String(crf),
        '-pix_fmt',
        'yuv420p',
        ...(shared ? ['-x264-params', `frame-packing=${shared.h264}`] : []),
        '-movflags',
        '+faststart',
        '-f',
        'mp4',
      ];
    }
    case 'webm': {
      const crf = Math.round(50 - 0.35 * quality);
      return [
        ...BT709,
        '-c:v',
        'libvpx-vp9',
        '-crf',
        String(crf),
        '-b:v',
        '0',
        '-row-mt',
        '1',
        '-cpu-used',
        '3',
        '-deadline',
        'good',
        '-pix_fmt',
        'yuv420p',
        ...(shared ? ['-metadata:s:v:0', `stereo_mode=${shared.matroska}`] : []),
        '-f',
        'webm',
      ];
    }
    case 'gif':
      return [
        '-filter_complex',
        '[0:v]split[a][b];[a]palettegen=stats_mode=diff[p];[b][p]paletteuse=dither=sierra2_4a:diff_mode=rectangle',
        '-loop',
        '0',
        '-f',
        'gif',
      ];
  }
}

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
