import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { corkTwin, ROOT, scratch } from '../support/cli';

const dir = scratch();
const picture = join(dir, 'picture.png');
const depth = join(dir, 'depth.png');

beforeAll(async () => {
  await sharp({ create: { width: 120, height: 80, channels: 3, background: { r: 200, g: 90, b: 30 } } })
    .png()
    .toFile(picture);
  await sharp(Buffer.from(Uint8Array.from({ length: 120 * 80 }, (_, i) => (i % 120 > 40 && i % 120 < 80 ? 255 : 0))), {
    raw: { width: 120, height: 80, channels: 1 },
  })
    .png()
    .toFile(depth);
});

const views = (...more: string[]) =>
  corkTwin('views', '--picture', picture, '--depth', depth, '--near', '-12', '--far', '4', ...more);

describe('cork-twin views', () => {
  test('makes left.png and right.png, and numbered views for more', () => {
    expect(views('--out', join(dir, 'pair')).status).toBe(0);
    expect(readdirSync(join(dir, 'pair')).sort()).toEqual(['left.png', 'right.png']);
    expect(views('--views', '3', '--out', join(dir, 'three')).status).toBe(0);
    expect(readdirSync(join(dir, 'three')).sort()).toEqual(['view_001.png', 'view_002.png', 'view_003.png']);
  });

  test('--holes keep leaves revealed pixels transparent; fill leaves none', async () => {
    views('--holes', 'keep', '--out', join(dir, 'keep'));
    const { data, info } = await sharp(join(dir, 'keep/right.png')).raw().toBuffer({ resolveWithObject: true });
    expect(info.channels).toBe(4);
    const clear = Array.from({ length: 120 * 80 }, (_, i) => data[i * 4 + 3]).filter((a) => a === 0).length;
    const report = JSON.parse(views('--holes', 'keep', '--json', '--out', join(dir, 'keep')).out) as {
      revealedShare: { views: number[] };
    };
    expect(clear / 9600).toBeCloseTo(report.revealedShare.views[1], 5);
    views('--out', join(dir, 'fill'));
    expect((await sharp(join(dir, 'fill/right.png')).metadata()).channels).toBe(3);
  });

  test('--invert turns the depth round', () => {
    views('--source-eye', 'left', '--out', join(dir, 'plain'));
    views('--source-eye', 'left', '--invert', '--out', join(dir, 'inverted'));
    expect(readFileSync(join(dir, 'plain/left.png'))).toEqual(readFileSync(join(dir, 'inverted/left.png')));
    const a = JSON.parse(views('--json', '--out', join(dir, 'p')).out) as { parallaxPx: object };
    const b = JSON.parse(views('--json', '--invert', '--out', join(dir, 'p')).out) as { parallaxPx: object };
    expect(a.parallaxPx).toEqual(b.parallaxPx);
  });

  test('--json prints one line with sizes, times, range and share', () => {
    const { out } = views('--json', '--out', join(dir, 'json'));
    expect(out.trim().split('\n')).toHaveLength(1);
    expect(JSON.parse(out)).toMatchObject({
      width: 120,
      height: 80,
      bits: 8,
      views: 2,
      parallaxPx: { nearest: -12, farthest: 4 },
      ms: { read: expect.any(Number), render: expect.any(Number), write: expect.any(Number), all: expect.any(Number) },
    });
  });
});

describe('wrong words end with 2 and the usage', () => {
  test.each([
    [[], 'A command is needed'],
    [['vews'], "no command 'vews'"],
    [['views', '--picture', 'a.png'], '--depth is needed'],
    [['views', '--colour', 'red'], '--colour'],
    [
      ['views', '--picture', 'a', '--depth', 'b', '--near', 'x', '--far', '1', '--out', 'o'],
      "--near takes a number, not 'x'",
    ],
    [
      ['views', '--picture', 'a', '--depth', 'b', '--near', '-1', '--far', '1', '--source-eye', 'middle', '--out', 'o'],
      "not 'middle'",
    ],
    [
      ['views', '--picture', 'a', '--depth', 'b', '--near', '-1', '--far', '1', '--views', '1', '--out', 'o'],
      'whole number from 2 to 200',
    ],
    [['pack', '--left', 'a', '--right', 'b', '--as', 'purple', '--out', 'o.png'], "not 'purple'"],
    [['sheet', '--views', 'd', '--lpi', '60'], 'is needed'],
    [['region', '--picture', 'a.png'], '--strokes is needed'],
    [['matte', '--picture', 'a.png', '--trimap', 'b.png'], '--out is needed'],
    [['plates', '--out', 'd'], '--shot is needed'],
    [
      ['views', '--plates', 'd', '--picture', 'a.png', '--near', '-1', '--far', '1', '--out', 'o'],
      '--picture cannot stand beside --plates',
    ],
  ])('%j', (words, says) => {
    const { status, err, out } = corkTwin(...words);
    expect(status).toBe(2);
    expect(err).toContain(says);
    expect(err).toContain('usage:');
    expect(out).toBe('');
  });
});

describe('anything else ends with 1 and one line', () => {
  test('that names the file or the value and what helps', async () => {
    const broken = join(dir, 'broken.png');
    const text = join(dir, 'text.png');
    const empty = join(dir, 'empty.png');
    const tall = join(dir, 'tall.png');
    writeFileSync(broken, readFileSync(join(ROOT, 'demo/orangery/centre.png')).subarray(0, 300_000));
    writeFileSync(text, 'this is no picture at all, whatever its name says');
    writeFileSync(empty, '');
    await sharp({ create: { width: 80, height: 120, channels: 3, background: '#888' } })
      .png()
      .toFile(tall);
    mkdirSync(join(dir, 'none'));
    const cases: [string[], string][] = [
      [
        ['views', '--picture', broken, '--depth', depth, '--near', '-1', '--far', '1', '--out', dir],
        'cut off or damaged',
      ],
      [
        ['views', '--picture', text, '--depth', depth, '--near', '-1', '--far', '1', '--out', dir],
        'not a picture that can be read',
      ],
      [
        ['views', '--picture', empty, '--depth', depth, '--near', '-1', '--far', '1', '--out', dir],
        'is empty (0 bytes)',
      ],
      [
        ['views', '--picture', join(dir, 'nowhere.png'), '--depth', depth, '--near', '-1', '--far', '1', '--out', dir],
        'does not exist',
      ],
      [
        ['views', '--picture', picture, '--depth', tall, '--near', '-1', '--far', '1', '--out', dir],
        'tall.png is 80 × 120 px but the picture is 120 × 80 px',
      ],
      [
        ['views', '--picture', picture, '--depth', depth, '--near', '-500', '--far', '1', '--out', dir],
        'Parallax -500 to 1 px',
      ],
      [
        ['pack', '--left', picture, '--right', tall, '--as', 'side-by-side', '--out', join(dir, 'o.png')],
        'Both eyes must have the same size',
      ],
      [
        ['pack', '--left', picture, '--right', picture, '--as', 'side-by-side', '--out', join(dir, 'o.gif')],
        'must end in .png, .tif or .jpg',
      ],
      [
        ['region', '--picture', picture, '--strokes', tall, '--out', join(dir, 'r.png')],
        'tall.png is 80 × 120 px but picture.png is 120 × 80 px',
      ],
      [
        ['region', '--picture', picture, '--strokes', picture, '--out', join(dir, 'r.png')],
        'no stroke that says "out"',
      ],
      [['matte', '--picture', picture, '--trimap', depth, '--out', join(dir, 'm.jpg')], 'a matte is written as PNG'],
      [['matte', '--picture', picture, '--trimap', tall, '--out', join(dir, 'm.png')], 'tall.png is 80 × 120 px'],
      [['matte', '--picture', picture, '--trimap', picture, '--out', join(dir, 'm.png')], 'no pixel that is surely'],
      [
        [
          'matte',
          '--picture',
          picture,
          '--trimap',
          depth,
          '--out',
          join(dir, 'm.png'),
          '--clean-colour',
          join(dir, 'c.gif'),
        ],
        'must end in .png, .tif or .jpg',
      ],
      [
        [
          'sheet',
          '--views',
          join(dir, 'none'),
          '--lpi',
          '60',
          '--dpi',
          '720',
          '--width-mm',
          '100',
          '--out',
          join(dir, 's.tif'),
        ],
        'at least 2 views',
      ],
      [
        [
          'sheet',
          '--views',
          join(dir, 'pair'),
          '--lpi',
          '600',
          '--dpi',
          '720',
          '--width-mm',
          '100',
          '--out',
          join(dir, 's.tif'),
        ],
        'lens pitch is 600 lpi',
      ],
    ];
    for (const [words, says] of cases) {
      const { status, err } = corkTwin(...words);
      expect(err.trim().split('\n')).toHaveLength(1);
      expect(err).toContain(says);
      expect(status).toBe(1);
    }
    for (const none of ['s.tif', 'r.png', 'm.png', 'm.jpg']) expect(existsSync(join(dir, none))).toBe(false);
  });
});
