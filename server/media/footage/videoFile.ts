import { spawn } from 'node:child_process';
import { cpus } from 'node:os';
import { pictureOf, type Straight } from '@/core/raster/picture';
import { bytesOfPlanes } from '@/core/raster/planes420';
import { Problem } from '../../http/problem';
import { MOST_SECONDS, type FootageFile } from './footageFile';
import { jpegsIn } from './jpegsIn';
import { probeVideo, type VideoInfo } from './probeVideo';

/** Quality of proxies, FFmpeg's scale from 2 (best) to 31: some 90 kB at 960 px. */
const QUALITY = 4;

/**
 * A video file that FFmpeg reads. @param mostSeconds what is longer is cut short
 * @throws Problem what is wrong with it
 */
export async function openVideo(path: string, fileName: string, mostSeconds = MOST_SECONDS): Promise<FootageFile> {
  const info = await probeVideo(path, fileName, mostSeconds);

  /** What each frame from one to another shows, as raw pixels. */
  async function* shown({ from, to, bytes, pixels, filter }: Shown): AsyncGenerator<Buffer> {
    const out = ['-f', 'rawvideo', '-pix_fmt', pixels];
    const pictures = whole(decode(path, fileName, { info, from: info.shows[from], filter, out }), bytes);
    let picture: Buffer | undefined;
    let at = info.shows[from] - 1;
    try {
      for (let n = from; n < to; n++) {
        while (at < info.shows[n]) {
          const { value } = await pictures.next();
          // A damaged end: the last whole picture stands.
          if (!value) break;
          at++;
          picture = value;
        }
        if (!picture)
          throw new Problem(422, 'damaged', `Frame ${n + 1} of ${fileName} cannot be read: the file is damaged there.`);
        yield picture;
      }
    } finally {
      await pictures.return(undefined);
    }
  }

  return {
    info,
    async *frames(from, to) {
      const bytes = info.width * info.height * 4 * (info.bits / 8);
      const pixels = info.bits === 16 ? 'rgba64le' : 'rgba';
      for await (const data of shown({ from, to, bytes, pixels, filter: toRgb(info) })) yield asPicture(data, info);
    },
    ...(info.planes420
      ? {
          async *planes(from: number, to: number) {
            const { width, height } = info;
            const bytes = bytesOfPlanes(width, height);
            for await (const data of shown({ from, to, bytes, pixels: 'yuv420p', filter: toPlanes(info) }))
              yield { width, height, data };
          },
        }
      : {}),
    async *proxies(from, width) {
      const height = 2 * Math.round((info.height * width) / info.width / 2);
      const out = ['-c:v', 'mjpeg', '-q:v', String(QUALITY), '-f', 'image2pipe'];
      yield* jpegsIn(decode(path, fileName, { info, from, filter: toJpeg(info, width, Math.max(2, height)), out }));
    },
  };
}

interface Shown {
  readonly from: number;
  readonly to: number;
  /** Of one frame. */
  readonly bytes: number;
  /** As FFmpeg names them. */
  readonly pixels: string;
  readonly filter: string;
}

const asPicture = (data: Buffer, { width, height, bits }: VideoInfo): Straight =>
  pictureOf(
    { width, height },
    bits === 16
      ? new Uint16Array(data.buffer, data.byteOffset, data.length / 2)
      : new Uint8Array(data.buffer, data.byteOffset, data.length),
    'straight',
  );

/** Half pictures joined; what it says of its colours, or what is taken for it. */
const meant = ({ interlaced, matrix, fullRange }: VideoInfo): readonly [string, string] => [
  interlaced ? 'bwdif=mode=send_frame,' : '',
  `in_color_matrix=${matrix}:in_range=${fullRange ? 'full' : 'limited'}`,
];

const toRgb = (info: VideoInfo): string => {
  const [before, colours] = meant(info);
  return `${before}scale=${info.width}:${info.height}:${colours}:flags=bicubic+accurate_rnd+full_chroma_int`;
};

/** BT.709 with limited range; what is that already passes as it is. */
const toPlanes = (info: VideoInfo): string => {
  const [before, colours] = meant(info);
  const size = `${info.width}:${info.height}`;
  return `${before}scale=${size}:${colours}:out_color_matrix=bt709:out_range=limited:flags=bicubic+accurate_rnd`;
};

/** JPEG's own colours. Source: ITU-T T.871. */
const toJpeg = (info: VideoInfo, width: number, height: number): string => {
  const [before, colours] = meant(info);
  return `${before}scale=${width}:${height}:${colours}:out_color_matrix=bt601:out_range=full:flags=area,format=yuvj420p`;
};

interface Decoding {
  readonly info: VideoInfo;
  /** The first picture that is wanted. */
  readonly from: number;
  readonly filter: string;
  readonly out: readonly string[];
}

/** What FFmpeg makes of a video from a picture on. Ends with it where nobody wants more. */
async function* decode(path: string, fileName: string, { info, from, filter, out }: Decoding): AsyncGenerator<Buffer> {
  const { times } = info;
  // Between the picture before and this one, so that rounding leads to neither side; nearer to this one, since files
  // that count in
  // frames round halves down.
  const seek = from > 0 ? ['-ss', (0.3 * times[from - 1] + 0.7 * times[from]).toFixed(6)] : [];
  const ffmpeg = spawn(
    'ffmpeg',
    [
      ...['-v', 'error', '-nostdin', '-threads', String(Math.max(1, cpus().length - 1)), ...seek, '-i', path],
      ...['-map', '0:V:0', '-fps_mode', 'passthrough', '-frames:v', String(times.length - from)],
      ...['-vf', filter, ...out, 'pipe:1'],
    ],
    { stdio: ['ignore', 'pipe', 'pipe'] },
  );
  let says = '';
  ffmpeg.stderr.on('data', (text: Buffer) => {
    says = (says + text.toString()).slice(-2000);
  });
  const ended = new Promise<number | null>((done) => {
    ffmpeg.on('error', () => {
      done(-1);
    });
    ffmpeg.on('close', done);
  });
  try {
    let any = false;
    for await (const piece of ffmpeg.stdout) {
      any = true;
      yield piece as Buffer;
    }
    const code = await ended;
    if (!any && code !== 0)
      throw new Problem(
        422,
        'damaged',
        `${fileName} cannot be read: ${says.trim().split('\n')[0] || 'FFmpeg could not be started'}.`,
      );
  } finally {
    ffmpeg.kill('SIGKILL');
  }
}

/** Cuts a stream into pieces of so many bytes; a last one that is not whole is left out. */
async function* whole(pieces: AsyncGenerator<Buffer>, bytes: number): AsyncGenerator<Buffer, undefined> {
  let picture = Buffer.allocUnsafeSlow(bytes);
  let filled = 0;
  for await (const piece of pieces)
    for (let at = 0; at < piece.length;) {
      const many = Math.min(bytes - filled, piece.length - at);
      piece.copy(picture, filled, at, at + many);
      filled += many;
      at += many;
      if (filled < bytes) continue;
      yield picture;
      picture = Buffer.allocUnsafeSlow(bytes);
      filled = 0;
    }
  return undefined;
}
