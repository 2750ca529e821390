import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { z } from 'zod';
import { layOutFrames } from '@/core/time/layOutFrames';
import type { Rate } from '@/core/time/rate';
import { Problem } from '../../http/problem';
import { MOST_SECONDS, requireFootageSize, type FootageInfo } from './footageFile';

const run = promisify(execFile);

/** What is needed beside that to decode it. */
export interface VideoInfo extends FootageInfo {
  /** When each picture is to be seen, seconds from the beginning of the file. */
  readonly times: readonly number[];
  /** As FFmpeg's scale filter names it. */
  readonly matrix: string;
  readonly fullRange: boolean;
  /** It holds a colour for every 2 x 2 px of 8 bits, in even sides. */
  readonly planes420: boolean;
  /** Half pictures that are to be joined. */
  readonly interlaced: boolean;
}

const fraction = z.string().transform((text): Rate | undefined => {
  const [numerator, denominator = 1] = text.split(/[/:]/).map(Number);
  return numerator > 0 && denominator > 0 ? { numerator, denominator } : undefined;
});
const seconds = z.coerce.number().catch(Number.NaN);

const streamSchema = z.object({
  index: z.number(),
  codec_type: z.string(),
  codec_name: z.string().default('unknown'),
  width: z.number().int().positive().optional(),
  height: z.number().int().positive().optional(),
  pix_fmt: z.string().optional(),
  sample_aspect_ratio: fraction.optional(),
  color_range: z.string().optional(),
  color_space: z.string().optional(),
  color_transfer: z.string().optional(),
  field_order: z.string().default('unknown'),
  r_frame_rate: fraction.optional(),
  avg_frame_rate: fraction.optional(),
  duration: seconds.optional(),
  disposition: z.object({ attached_pic: z.number().default(0) }).default({ attached_pic: 0 }),
  side_data_list: z.array(z.object({ rotation: z.number().optional() })).default([]),
});
const probedSchema = z.object({
  streams: z.array(streamSchema),
  format: z.object({ start_time: seconds.optional(), duration: seconds.optional() }).default({}),
});
const packetsSchema = z.object({
  packets: z.array(
    z.object({ pts_time: seconds.optional(), duration_time: seconds.optional(), flags: z.string().default('') }),
  ),
});

const NO_FFMPEG = 'FFmpeg could not be started. It comes with Debian’s package ffmpeg.';
/** Ffprobe's list of a minute's pictures stays below this, bytes. */
const LIST = 64_000_000;
/** A file that takes longer to be looked through has no end, ms. */
const PATIENCE_MS = 5 * 60_000;

/**
 * Reads what a video says of itself and when each of its pictures is to be seen; nothing is decoded.
 * @throws Problem `not-readable`, `no-pictures`, `too-many-pixels`, `unknown-colours`
 */
export async function probeVideo(path: string, fileName: string, mostSeconds: number): Promise<VideoInfo> {
  const unreadable = (why: string): Problem => new Problem(422, 'not-readable', `${fileName} cannot be read: ${why}`);
  const cutOff = unreadable('it is cut off or damaged, or FFmpeg does not know it. Export or copy it again.');
  const ffprobe = async (...words: string[]): Promise<unknown> => {
    try {
      const { stdout } = await run('ffprobe', ['-v', 'error', '-of', 'json', ...words, path], {
        maxBuffer: LIST,
        timeout: PATIENCE_MS,
      });
      return JSON.parse(stdout);
    } catch (error) {
      throw (error as NodeJS.ErrnoException).code === 'ENOENT' ? new Problem(422, 'no-video', NO_FFMPEG) : cutOff;
    }
  };
  const probed = probedSchema.safeParse(await ffprobe('-show_streams', '-show_format'));
  if (!probed.success) throw cutOff;
  const { streams, format } = probed.data;
  const video = streams.find((s) => s.codec_type === 'video' && s.disposition.attached_pic === 0);
  if (!video)
    throw new Problem(
      422,
      'no-pictures',
      `${fileName} holds no moving pictures${streams.length > 0 ? ', only sound' : ''}.`,
    );
  if (!video.width || !video.height || !video.pix_fmt) throw cutOff;
  const size = shownSize(video, fileName);
  const colours = coloursOf(video, size.height, fileName);
  const begins = format.start_time !== undefined && Number.isFinite(format.start_time) ? format.start_time : 0;
  const list = packetsSchema.safeParse(
    await ffprobe(
      ...['-select_streams', String(video.index), '-show_entries', 'packet=pts_time,duration_time,flags'],
      ...(Number.isFinite(mostSeconds) ? ['-read_intervals', `%+${mostSeconds + 1}`] : []),
    ),
  );
  if (!list.success) throw cutOff;
  // Pictures that are only there for others to be made of are marked D.
  const seen = list.data.packets.filter((p) => !p.flags.includes('D') && Number.isFinite(p.pts_time));
  if (seen.length === 0) throw unreadable('it announces pictures but holds none.');
  const all = seen.map((p) => p.pts_time! - begins).sort((a, b) => a - b);
  const times = all.filter((time, n) => (n === 0 || time > all[n - 1]) && time - all[0] < mostSeconds);
  const usual = times.length > 1 ? (times[times.length - 1] - times[0]) / (times.length - 1) : 1 / 24;
  const lasts = seen.find((p) => p.pts_time! - begins === times[times.length - 1])?.duration_time;
  const laid = layOutFrames(times, lasts !== undefined && lasts > 0 ? lasts : usual, [
    ...(video.avg_frame_rate ? [video.avg_frame_rate] : []),
    ...(video.r_frame_rate ? [video.r_frame_rate] : []),
  ]);
  const interlaced = /^(tt|bb|tb|bt)$/.test(video.field_order);
  const sound = streams.find((s) => s.codec_type === 'audio');
  const long = format.duration ?? video.duration ?? 0;
  return {
    ...size.shown,
    ...colours.info,
    rate: laid.rate,
    shows: laid.shows,
    times,
    interlaced,
    planes420: /^(yuvj?420p|nv12)$/.test(video.pix_fmt) && size.shown.width % 2 === 0 && size.shown.height % 2 === 0,
    sound: sound ? { codec: sound.codec_name.slice(0, 40), seconds: soundSeconds(sound.duration, long) } : null,
    told: [
      ...size.told,
      ...colours.told,
      interlaced ? 'its half pictures were joined' : '',
      laid.even
        ? ''
        : `its ${times.length} pictures come at uneven times and were laid out ` +
          `as ${laid.shows.length} frames of ${rateText(laid.rate)} a second`,
      all.length > times.length || long > mostSeconds + 1
        ? `longer than ${mostSeconds} s: the first ${mostSeconds} s came in`
        : '',
    ]
      .filter(Boolean)
      .join(', '),
  };
}

/** How long the sound is: as it says, else as the file says, never longer than what came in. */
function soundSeconds(stated: number | undefined, long: number): number {
  const known = [stated, long].find((v) => v !== undefined && Number.isFinite(v));
  return Math.min(MOST_SECONDS, known ?? 0);
}

const rateText = ({ numerator, denominator }: Rate): string =>
  String(Math.round((1000 * numerator) / denominator) / 1000);

type Stream = z.infer<typeof streamSchema>;

/** The size as it is seen: pixels made square, turned as the file says. */
function shownSize(
  { width = 1, height = 1, sample_aspect_ratio: pixel, side_data_list: sides }: Stream,
  fileName: string,
) {
  const aspect = pixel ? pixel.numerator / pixel.denominator : 1;
  const square = Math.abs(aspect - 1) < 1e-6 ? { width, height } : { width: Math.round(width * aspect), height };
  const turned = sides.some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90);
  const shown = turned ? { width: square.height, height: square.width } : square;
  requireFootageSize(shown, fileName);
  return {
    shown,
    height,
    told: [
      sides.some(({ rotation = 0 }) => rotation % 360 !== 0) ? 'turned as it says' : '',
      square.width === width ? '' : `its pixels made square (${width} × ${height} px before)`,
    ],
  };
}

/**
 * Standard definition has other numbers for luma and colour than high definition. Source: ITU-R BT.601, BT.709; where
 * a file says nothing, by its height: common practice.
 */
const HIGH = 720;
const MATRICES: Readonly<Record<string, string>> = {
  ...{ bt709: 'bt709', smpte170m: 'smpte170m', bt470bg: 'bt470bg', fcc: 'fcc', smpte240m: 'smpte240m' },
};
/** Curves that differ too little from sRGB's to be bent: they are shown as they are. */
const PLAIN = new Set([
  'unknown',
  'reserved',
  'bt709',
  'smpte170m',
  'bt470bg',
  'bt470m',
  'iec61966-2-1',
  'gamma22',
  'gamma28',
  'bt2020-10',
]);

function coloursOf(
  { pix_fmt: stored = '', color_space: matrix, color_range: range, color_transfer: curve }: Stream,
  height: number,
  fileName: string,
) {
  const refuse = (what: string): Problem =>
    new Problem(
      422,
      'unknown-colours',
      `${fileName} has ${what}, which would be shown wrongly. Convert it to BT.709 and bring it in again.`,
    );
  if (curve !== undefined && !PLAIN.has(curve))
    throw refuse(`a curve of brightness for high dynamic range or film (${curve})`);
  const rgb = /^(gbr|rgb|bgr|argb|abgr|0rgb|0bgr|pal8|gray|ya|mono)/.test(stored);
  const known = matrix !== undefined && matrix !== 'unknown' && matrix !== 'reserved';
  if (!rgb && known && !(matrix in MATRICES)) throw refuse(`colours by ${matrix}`);
  const assumed = height >= HIGH ? 'bt709' : 'smpte170m';
  return {
    info: {
      matrix: known && matrix in MATRICES ? MATRICES[matrix] : assumed,
      fullRange: range === 'pc' || /^yuvj/.test(stored),
      bits: /(9|10|12|14|16)(le|be)$|48|64/.test(stored) ? (16 as const) : (8 as const),
      hasAlpha: /^(yuva|gbrap|rgba|bgra|argb|abgr|ya|pal8)/.test(stored),
    },
    told: [
      rgb || known
        ? ''
        : `it does not say how its colours are meant: taken as ${assumed === 'bt709' ? 'BT.709' : 'BT.601'}`,
    ],
  };
}
