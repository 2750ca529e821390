import { sceneOf, type ScenePart } from '../scene/sceneOf';
import { resizeDepth } from '../raster/resizeDepth';
import { pictureOf, type DepthMap, type Premultiplied8 } from '../raster/picture';
import { premultiply, unpremultiply } from '../raster/alpha';
import { documentPatchSchema, newDocument, patchDocument, shotDocumentSchema } from './document';
import { renderView } from '../view/renderView';
import { spanBudget } from '../stereo/parallax';

const source = {
  mediaId: '7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a11',
  fileName: 'a.png',
  width: 320,
  height: 200,
  bits: 8 as const,
  hasAlpha: false,
  told: '',
};
const begun = newDocument(source, '7b0c1c52-6f0a-4a53-9d55-0d5a2f3f8a12');
const part: ScenePart = { ...begun, budget: { nearPx: -16, farPx: 8 } };

/**
 * A floor that comes nearer downwards, a wall, and a ball before both; colours smooth enough to be halved without
 * aliasing.
 */
function scene(width: number, height: number): { picture: Premultiplied8; depth: DepthMap } {
  const data = new Uint8Array(width * height * 4);
  const d = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const u = (x + 0.5) / width;
      const v = (y + 0.5) / height;
      const i = y * width + x;
      const ball = (u - 0.5) ** 2 + ((v - 0.55) * 0.625) ** 2 < 0.02;
      data.set([128 + 100 * Math.sin(u * 25), 128 + 100 * Math.cos(v * 19), ball ? 230 : 60, 255], i * 4);
      d[i] = Math.round((ball ? 0.95 : 0.1 + Math.max(0, v - 0.4)) * 65535);
    }
  }
  return {
    picture: { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data },
    depth: { width, height, data: d },
  };
}

function halved(p: Premultiplied8): Premultiplied8 {
  const width = p.width / 2;
  const height = p.height / 2;
  const data = new Uint8Array(width * height * 4);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < 4; c++) {
        const at = (dx: number, dy: number): number => p.data[((2 * y + dy) * p.width + 2 * x + dx) * 4 + c];
        data[(y * width + x) * 4 + c] = Math.round((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1)) / 4);
      }
  return { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data };
}

describe('one renderer', () => {
  test.each([-0.5, 0.5])('the preview at half size is the final render, downsampled (eye %p)', (eye) => {
    const full = scene(320, 200);
    const final = halved(renderView(sceneOf(part), { ...full, plates: [] }, eye).picture);
    const preview = renderView(
      sceneOf(part),
      { picture: halved(full.picture), depth: resizeDepth(full.depth, { width: 160, height: 100 }), plates: [] },
      eye,
      { scale: 0.5 },
    ).picture;
    let sum = 0;
    let far = 0;
    for (let i = 0; i < final.data.length; i++) {
      const e = Math.abs(final.data[i] - preview.data[i]);
      sum += e * e;
      if (e > 24) far++;
    }
    const psnr = 10 * Math.log10((255 * 255 * final.data.length) / sum);
    // Away from the ball's rim both agree to rounding; the rim is one pixel wide in each and lies within half a pixel.
    expect(psnr).toBeGreaterThan(32);
    expect(far / final.data.length).toBeLessThan(0.01);
  });

  test('the depth span stretches the map between its own two parallaxes', () => {
    const b = spanBudget(part.budget, { near: 0.75, far: 0.25 });
    expect(b.farPx).toBeCloseTo(8 - 24 * 0.25, 12);
    expect(b.nearPx).toBeCloseTo(8 - 24 * 0.75, 12);
  });

  test('swapped eyes exchange the two views, wherever the source stands', () => {
    const { picture, depth } = scene(96, 64);
    for (const sourceEye of ['left', 'centre', 'right'] as const) {
      const plain = { ...part, sourceEye };
      const swapped = { ...part, sourceEye, swapEyes: true };
      for (const eye of [-0.5, -0.2, 0.5]) {
        expect(Buffer.from(renderView(sceneOf(swapped), { picture, depth, plates: [] }, eye).picture.data)).toEqual(
          Buffer.from(renderView(sceneOf(plain), { picture, depth, plates: [] }, -eye).picture.data),
        );
      }
    }
  });
});

describe('the shot document', () => {
  test('a new one is valid and begins within its own limits', () => {
    expect(shotDocumentSchema.parse(begun)).toEqual(begun);
    expect(
      shotDocumentSchema.safeParse(newDocument({ ...source, width: 100_000, height: 1000 }, begun.depth.revision))
        .success,
    ).toBe(true);
    expect(
      shotDocumentSchema.safeParse(newDocument({ ...source, width: 1, height: 1 }, begun.depth.revision)).success,
    ).toBe(true);
  });
  test('a patch changes what it names and nothing else, and leaves the old document as it was', () => {
    const before = structuredClone(begun);
    const next = patchDocument(begun, {
      budget: { nearPx: -3, farPx: 4 },
      span: { near: 0.9, far: 0.2 },
      recipes: { views: { kind: 'views', views: 24, format: 'tiff', quality: 90 } },
    });
    expect(begun).toEqual(before);
    expect(next).toEqual({
      ...before,
      budget: { nearPx: -3, farPx: 4 },
      depth: { ...before.depth, near: 0.9, far: 0.2 },
      recipes: { ...before.recipes, views: { kind: 'views', views: 24, format: 'tiff', quality: 90 } },
    });
  });
  test('a patch from outside cannot touch the source, turn a span round or carry nonsense', () => {
    for (const bad of [
      { source },
      { span: { near: 0.2, far: 0.9 } },
      { budget: { nearPx: 1e9, farPx: 0 } },
      { budget: { nearPx: -1 } },
      { tearPx: 0 },
      { sourceEye: 'third' },
      { depth: { revision: begun.depth.revision } },
    ]) {
      expect(documentPatchSchema.safeParse(bad).success).toBe(false);
    }
  });
});

test('premultiplying and back keeps what is seen', () => {
  const data = Uint8Array.from([200, 100, 50, 255, 200, 100, 50, 128, 9, 9, 9, 0]);
  const seen = premultiply(pictureOf({ width: 3, height: 1 }, data, 'straight'));
  expect(seen).toMatchObject({ bits: 8, alpha: 'premultiplied' });
  expect([...data.slice(4, 8)]).toEqual([100, 50, 25, 128]);
  expect(unpremultiply(seen)).toMatchObject({ bits: 8, alpha: 'straight' });
  expect([...data.slice(0, 4)]).toEqual([200, 100, 50, 255]);
  for (let c = 4; c < 7; c++) expect(Math.abs(data[c] - [200, 100, 50][c - 4])).toBeLessThanOrEqual(1);
  expect([...data.slice(8)]).toEqual([0, 0, 0, 0]);
});
