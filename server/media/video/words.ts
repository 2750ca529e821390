import type { Size } from '@/core/kind';
import type { VideoFormat } from '@/core/recipes';
import type { Colours } from '@/core/raster/ycbcr';
import { rateOf } from '@/core/time/rate';

export interface VideoOptions extends Size {
  readonly format: VideoFormat;
  readonly fps: number;
  /** 0 smallest to 100 best. @default 80 */
  readonly quality?: number;
  /** How two eyes share a frame, so that players know. @default one eye */
  readonly packing?: string;
  /** What frames hold when they come; luma and colour differences come in planes. @default 'rgb' */
  readonly colours?: Colours;
}

/** What FFmpeg is told of frames that come through a pipe. */
export function pipeWords({ width, height, fps, colours }: VideoOptions): string[] {
  const { numerator, denominator } = rateOf(fps);
  const rate = `${numerator}/${denominator}`;
  return [
    '-f',
    'rawvideo',
    '-pix_fmt',
    colours === 'ycbcr' ? 'yuv420p' : 'rgba',
    '-s',
    `${width}x${height}`,
    '-r',
    rate,
    '-i',
    'pipe:0',
  ];
}

/** What FFmpeg is told to make a whole video of frames. */
export function fileWords(options: VideoOptions): string[] {
  if (options.format === 'gif') return GIF;
  return [...codecWords(options), ...boxWords(options)];
}

/** What FFmpeg is told to make a piece of a video, to be joined with others: ready coded, or, where the whole decides, as it is. */
export function pieceWords(options: VideoOptions): string[] {
  const exact = ['-video_track_timescale', String(rateOf(options.fps).numerator)];
  if (options.format === 'gif') return ['-c:v', 'png', ...exact, '-f', 'mov'];
  return [...codecWords(options), ...exact, '-f', 'mp4'];
}

/** What FFmpeg is told to make a whole video of joined pieces. */
export function joinWords(options: VideoOptions): string[] {
  if (options.format === 'gif') return GIF;
  const exact = options.format === 'mp4' ? ['-video_track_timescale', String(rateOf(options.fps).numerator)] : [];
  return ['-c', 'copy', ...exact, ...boxWords(options)];
}

/** Colours as every player takes them: BT.709 with limited range, written into the file too. */
const BT709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'];

/** H.264's frame packing SEI (ITU-T H.264, Annex D) and Matroska's StereoMode (RFC 9559). */
const SHARED: Readonly<Record<string, { readonly h264: string; readonly matroska: string }>> = {
  'side-by-side': { h264: '3', matroska: 'left_right' },
  'over-under': { h264: '4', matroska: 'top_bottom' },
};

/** What FFmpeg is told of how frames are coded. */
export function codecWords({ format, quality = 80, packing = '', colours = 'rgb' }: VideoOptions): string[] {
  const shared = SHARED[packing];
  const pixels = ['-pix_fmt', 'yuv420p'];
  // Planes are what they shall be.
  const meant = [...(colours === 'rgb' ? ['-vf', 'scale=out_color_matrix=bt709:out_range=tv'] : []), ...BT709];
  if (format === 'mp4') {
    // 100 is hardly told from the source (crf 12), 0 is coarse (crf 38).
    const crf = String(Math.round(38 - 0.26 * quality));
    const eyes = shared ? ['-x264-params', `frame-packing=${shared.h264}`] : [];
    return [...meant, '-c:v', 'libx264', '-preset', 'medium', '-crf', crf, ...pixels, ...eyes];
  }
  const crf = String(Math.round(50 - 0.35 * quality));
  const speed = ['-row-mt', '1', '-cpu-used', '3', '-deadline', 'good'];
  return [...meant, '-c:v', 'libvpx-vp9', '-crf', crf, '-b:v', '0', ...speed, ...pixels];
}

/** The file around what is coded. */
function boxWords({ format, packing = '' }: VideoOptions): string[] {
  if (format === 'mp4') return ['-movflags', '+faststart', '-f', 'mp4'];
  const shared = SHARED[packing];
  // Without it every file has a random number of its own.
  return [
    ...(shared ? ['-metadata:s:v:0', `stereo_mode=${shared.matroska}`] : []),
    '-fflags',
    '+bitexact',
    '-f',
    'webm',
  ];
}

/** One palette for all frames, of what changes between them. */
const GIF = [
  '-filter_complex',
  '[0:v]split[a][b];[a]palettegen=stats_mode=diff[p];[b][p]paletteuse=dither=sierra2_4a:diff_mode=rectangle',
  '-loop',
  '0',
  '-f',
  'gif',
];
