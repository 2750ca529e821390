import { execFileSync } from 'node:child_process';
import { seeded } from '@/tests/support/chance';
import { pictureOf, type Straight8 } from './picture';
import { bytesOfPlanes, pictureOfPlanes, planesOf } from './planes420';
import { rgbToYcbcr, ycbcrToRgb } from './ycbcr';

const chance = seeded(12);
const WIDTH = 18;
const HEIGHT = 6;

const byte = (): number => Math.floor(chance() * 256);
const noise = (): Straight8 =>
  pictureOf(
    { width: WIDTH, height: HEIGHT },
    Uint8Array.from({ length: WIDTH * HEIGHT * 4 }, (_, i) => (i % 4 === 3 ? 255 : byte())),
    'straight',
  );

describe('frames in planes', () => {
  test('come back byte for byte', () => {
    const data = Uint8Array.from({ length: bytesOfPlanes(WIDTH, HEIGHT) }, byte);
    const picture = pictureOfPlanes({ width: WIDTH, height: HEIGHT, data });
    expect(Buffer.from(planesOf(picture).data).equals(Buffer.from(data))).toBe(true);
    // A px of the second row lies in the first square of colours.
    const at = (WIDTH + 1) * 4;
    const chroma = WIDTH * HEIGHT;
    expect([...picture.data.subarray(at, at + 4)]).toEqual([
      data[WIDTH + 1],
      data[chroma],
      data[chroma + chroma / 4],
      255,
    ]);
  });

  test('hold the mean colour of each square', () => {
    const picture = noise();
    const { data } = planesOf(picture);
    const mean = (c: number): number =>
      [0, 4, WIDTH * 4, WIDTH * 4 + 4].reduce((sum, at) => sum + picture.data[at + c], 0) / 4;
    expect(Math.abs(data[WIDTH * HEIGHT] - mean(1))).toBeLessThanOrEqual(0.5);
    expect(Math.abs(data[WIDTH * HEIGHT * 1.25] - mean(2))).toBeLessThanOrEqual(0.5);
  });

  test('need even sides', () => {
    expect(() => planesOf({ ...noise(), width: WIDTH - 1 })).toThrow('17 × 6 px has no whole squares');
    expect(() => pictureOfPlanes({ width: WIDTH, height: 5, data: new Uint8Array(135) })).toThrow('18 × 5 px');
  });
});

describe('luma and colour differences', () => {
  test('of white, black and the primaries are those of BT.709', () => {
    // Source: ITU-R BT.709-6, items 3.2 to 3.5 and 4.6, worked out by hand: 16 + 219 Y; 128 + 224 C.
    const rows: readonly [readonly number[], readonly number[]][] = [
      [
        [255, 255, 255],
        [235, 128, 128],
      ],
      [
        [0, 0, 0],
        [16, 128, 128],
      ],
      [
        [255, 0, 0],
        [63, 102, 240],
      ],
      [
        [0, 255, 0],
        [173, 42, 26],
      ],
      [
        [0, 0, 255],
        [32, 240, 118],
      ],
    ];
    const picture = pictureOf(
      { width: rows.length, height: 1 },
      Uint8Array.from(rows.flatMap(([rgb]) => [...rgb, 255])),
      'straight',
    );
    expect([...rgbToYcbcr(picture).data]).toEqual(rows.flatMap(([, coded]) => [...coded, 255]));
  });

  test('are those of FFmpeg, and come back within what 8 bits of limited range lose', () => {
    const picture = noise();
    const coded = rgbToYcbcr(picture);
    const words = ['-v', 'error', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-s', `${WIDTH}x${HEIGHT}`, '-i', '-'];
    const colours = 'scale=out_color_matrix=bt709:out_range=tv:flags=accurate_rnd+full_chroma_int,format=yuv444p';
    const theirs = execFileSync('ffmpeg', [...words, '-vf', colours, '-f', 'rawvideo', '-'], { input: picture.data });
    const n = WIDTH * HEIGHT;
    for (let i = 0; i < n; i++)
      for (let c = 0; c < 3; c++) expect(Math.abs(coded.data[i * 4 + c] - theirs[c * n + i])).toBeLessThanOrEqual(1);
    const back = ycbcrToRgb(coded);
    // Half a step of luma is .58 of 255, half a step of a colour difference at most 1.06 in blue; green takes a share
    // of both: at most 1.7, and half a step of its own.
    picture.data.forEach((value, i) => {
      expect(Math.abs(back.data[i] - value)).toBeLessThanOrEqual(2);
    });
  });
});
