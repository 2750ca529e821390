import { execFileSync } from 'node:child_process';
import { statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { depthToPng, readDepthFile } from '@/server/media/depthFile';
import { writePicture } from '@/server/media/writePicture';
import { corkTwin, scratch } from '../support/cli';
import { python } from '../support/python';

// Files read and written by OpenCV (libpng, libtiff), not by us.

const dir = scratch();

describe('16-bit depth', () => {
  test('written by OpenCV, every value of 65536 comes in as it is, also as colour and turned round', async () => {
    python(
      `
import cv2, numpy as np, sys
a = np.arange(65536, dtype=np.uint16).reshape(256, 256)
for name in ('grey.png', 'grey.tif'): cv2.imwrite(sys.argv[1] + '/' + name, a)
cv2.imwrite(sys.argv[1] + '/colour.png', cv2.merge([a, a, a]))`,
      [dir],
    );
    for (const name of ['grey.png', 'grey.tif', 'colour.png']) {
      const map = await readDepthFile(join(dir, name), name, { whiteIsNear: true, mend: true });
      expect(map.data.findIndex((v, i) => v !== i)).toBe(-1);
    }
    const black = await readDepthFile(join(dir, 'grey.png'), 'grey.png', { whiteIsNear: false, mend: false });
    expect(black.data.findIndex((v, i) => v !== 65535 - i)).toBe(-1);
  });

  test('written by us, OpenCV reads every value back', async () => {
    writeFileSync(
      join(dir, 'out.png'),
      await depthToPng({
        width: 256,
        height: 256,
        data: Uint16Array.from({ length: 65536 }, (_, i) => (i * 40503) & 65535),
      }),
    );
    expect(
      python(
        `
import cv2, numpy as np, sys
a = cv2.imread(sys.argv[1] + '/out.png', -1)
print(a.shape, a.dtype, int((a.ravel() != (np.arange(65536, dtype=np.uint32) * 40503 & 65535)).sum()))`,
        [dir],
      ).trim(),
    ).toBe('(256, 256) uint16 0');
  });

  test('8-bit maps come in at 257 times their value', async () => {
    python(
      "import cv2, numpy as np, sys; cv2.imwrite(sys.argv[1] + '/eight.png', np.arange(256, dtype=np.uint8).reshape(16, 16))",
      [dir],
    );
    const map = await readDepthFile(join(dir, 'eight.png'), 'eight.png', { whiteIsNear: true, mend: false });
    expect(map.data.findIndex((v, i) => v !== i * 257)).toBe(-1);
  });
});

describe('pictures', () => {
  const picture = {
    bits: 16 as const,
    alpha: 'straight' as const,
    width: 64,
    height: 48,
    data: Uint16Array.from({ length: 64 * 48 * 4 }, (_, i) => (i % 4 === 3 ? 65535 : (i * 7919) & 65535)),
  };
  test.each([
    ['png16', 'png'],
    ['tiff', 'tif'],
  ] as const)('16-bit %s keeps every value', async (format, end) => {
    const path = join(dir, `deep.${end}`);
    await writePicture(path, picture, format, { alpha: false });
    expect(
      python(
        `
import cv2, numpy as np, sys
a = cv2.imread(sys.argv[1], -1); i = np.arange(64 * 48 * 4, dtype=np.uint32).reshape(48, 64, 4)
print(a.dtype, a.shape, int((a[..., ::-1] != ((i * 7919) & 65535)[..., :3]).sum()))`,
        [path],
      ).trim(),
    ).toBe('uint16 (48, 64, 3) 0');
  });
});

describe('sheets', () => {
  const views = join(dir, 'views');
  beforeAll(() => {
    python(
      `
import cv2, numpy as np, sys, os
os.makedirs(sys.argv[1])
for v in range(12): cv2.imwrite(f'{sys.argv[1]}/view_{v + 1:03d}.png', np.full((60, 96, 3), 10 + v * 20, np.uint8))`,
      [views],
    );
  });

  test.each(['tif', 'png'])(
    'a %s sheet is read by OpenCV, holds the formula’s columns and says its resolution',
    (end) => {
      const out = join(dir, `sheet.${end}`);
      expect(
        corkTwin('sheet', '--views', views, '--lpi', '60', '--dpi', '720', '--width-mm', '101.6', '--out', out),
      ).toMatchObject({ status: 0, err: '' });
      // 101.6 mm are 4 in: 2880 columns, 12 a lens, one a view; the leftmost view lies rightmost under each lens.
      expect(
        python(
          `
import cv2, numpy as np, sys
a = cv2.imread(sys.argv[1]); x = np.arange(2880)
print(a.shape, int((a != (10 + (11 - x % 12) * 20)[None, :, None]).sum()))`,
          [out],
        ).trim(),
      ).toBe('(1800, 2880, 3) 0');
      const probe = execFileSync(
        'ffprobe',
        ['-v', 'error', '-show_entries', 'stream=width,height,pix_fmt', '-of', 'csv=p=0', out],
        { encoding: 'utf8' },
      );
      expect(probe.trim()).toBe('2880,1800,rgb24');
      expect(
        python(
          `
import sys, struct
b = open(sys.argv[1], 'rb').read()
if sys.argv[1].endswith('png'):
    i = b.index(b'pHYs'); x, y, u = struct.unpack('>IIB', b[i + 4:i + 13]); print(round(x * 0.0254), round(y * 0.0254), u)
else:
    at = struct.unpack('<I', b[4:8])[0]; n = struct.unpack('<H', b[at:at + 2])[0]
    entries = [b[at + 2 + i * 12:at + 14 + i * 12] for i in range(n)]
    tags = {struct.unpack('<H', e[:2])[0]: struct.unpack('<I', e[8:12])[0] for e in entries}
    r = lambda t: round(struct.unpack('<II', b[tags[t]:tags[t] + 8])[0] / struct.unpack('<II', b[tags[t]:tags[t] + 8])[1])
    print(r(282), r(283), 1 if tags[296] == 2 else 0)`,
          [out],
        ).trim(),
      ).toBe('720 720 1');
      expect(statSync(out).size).toBeGreaterThan(1000);
    },
  );

  test('--lens-swap turns the order under each lens round', () => {
    const out = join(dir, 'swapped.png');
    corkTwin(
      'sheet',
      '--views',
      views,
      '--lpi',
      '60',
      '--dpi',
      '720',
      '--width-mm',
      '25.4',
      '--lens-swap',
      '--out',
      out,
    );
    expect(python('import cv2, sys; print(cv2.imread(sys.argv[1])[0, :12, 0].tolist())', [out]).trim()).toBe(
      `[${Array.from({ length: 12 }, (_, v) => 10 + v * 20).join(', ')}]`,
    );
  });
});
