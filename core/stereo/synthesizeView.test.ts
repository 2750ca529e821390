import { seeded } from '@/tests/support/chance';
import type { DepthMap, Premultiplied8 } from '../raster/picture';
import { synthesizeView, viewBuffers, type ViewGeometry } from './synthesizeView';

const WHITE_BLACK = { nearPx: -12, farPx: 6 };

function picture(width: number, height: number, value: (x: number, y: number, c: number) => number): Premultiplied8 {
  const data = new Uint8Array(width * height * 4);
  for (let i = 0; i < data.length; i++) {
    const p = i >> 2;
    data[i] = (i & 3) === 3 ? 255 : value(p % width, Math.floor(p / width), i & 3);
  }
  return { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data };
}

function depth(width: number, height: number, value: (x: number, y: number) => number): DepthMap {
  return {
    width,
    height,
    data: Uint16Array.from({ length: width * height }, (_, i) =>
      Math.round(value(i % width, Math.floor(i / width)) * 65535),
    ),
  };
}

/**
 * The same one-dimensional mesh in plain words: every joined pair of columns is drawn with its nearness, the nearest wins by a
 * z-buffer. NaN where nothing lands. No painter's order, no fixed point, no run of eight.
 */
function plainRow(
  row: Premultiplied8,
  map: DepthMap,
  g: Required<Pick<ViewGeometry, 'eye' | 'tearPx' | 'budget'>>,
): number[][] {
  const { width } = row;
  const p = (x: number): number => g.budget.farPx + ((g.budget.nearPx - g.budget.farPx) * map.data[x]) / 65535;
  const out = Array.from({ length: width }, () => [Number.NaN, Number.NaN, Number.NaN]);
  const z = new Array<number>(width).fill(-Infinity);
  const at = (x: number): number => x + g.eye * p(x);
  const draw = (t: number, near: number, u: number): void => {
    if (t < 0 || t >= width || near < z[t] - 1e-9) return;
    z[t] = near;
    const x0 = Math.min(width - 1, Math.floor(u));
    const x1 = Math.min(width - 1, x0 + 1);
    const f = u - x0;
    for (let c = 0; c < 3; c++) out[t][c] = row.data[x0 * 4 + c] * (1 - f) + row.data[x1 * 4 + c] * f;
  };
  const half = (from: number, to: number, near: number, u: number): void => {
    for (let t = Math.ceil(from - 1e-9); t <= to + 1e-9; t++) draw(t, near, u);
  };
  half(at(0) - 0.5, at(0), -p(0), 0);
  half(at(width - 1), at(width - 1) + 0.5, -p(width - 1), width - 1);
  for (let x = 0; x + 1 < width; x++) {
    const a = at(x);
    const b = at(x + 1);
    if (Math.abs(p(x + 1) - p(x)) <= g.tearPx) {
      if (b <= a) continue;
      for (let t = Math.ceil(a - 1e-9); t <= b + 1e-9; t++) {
        const f = Math.min(1, Math.max(0, (t - a) / (b - a)));
        draw(t, -(p(x) + (p(x + 1) - p(x)) * f), x + f);
      }
    } else {
      half(a, a + 0.5, -p(x), x);
      half(b - 0.5, b, -p(x + 1), x + 1);
    }
  }
  return out;
}

describe('synthesizeView', () => {
  const width = 203;
  const height = 5;
  const smooth = picture(width, height, (x, y, c) => 120 + 90 * Math.sin(x / 9 + c) * Math.cos(y));

  test.each([0.5, -0.5, 0.25, -0.125])('agrees with the plain mesh at eye %p', (eye) => {
    const chance = seeded(7);
    // Blocks of constant depth with slanted pieces between: jumps both ways, slopes, and single columns.
    const levels = Array.from({ length: 40 }, () => chance());
    const map = depth(width, height, (x) => {
      const k = Math.floor(x / 6);
      return Math.min(1, levels[k % 40] * 0.8 + (k % 3 === 0 ? (x % 6) * 0.004 : 0));
    });
    const g = {
      budget: WHITE_BLACK,
      sourceEye: 'centre' as const,
      eye,
      tearPx: 1,
      edges: 'as-they-are' as const,
      holes: 'keep' as const,
    };
    const got = synthesizeView(smooth, map, g);
    let compared = 0;
    let unequal = 0;
    for (let y = 0; y < height; y++) {
      const row: Premultiplied8 = {
        bits: 8 as const,
        alpha: 'premultiplied' as const,
        width,
        height: 1,
        data: smooth.data.slice(y * width * 4, (y + 1) * width * 4),
      };
      const want = plainRow(row, { width, height: 1, data: map.data.slice(y * width, (y + 1) * width) }, g);
      for (let t = 0; t < width; t++) {
        const i = (y * width + t) * 4;
        const hole = got.revealed.data[y * width + t] === 255;
        // Where a torn edge ends exactly between two columns, rounding to 1/256 px may decide either way.
        if (hole !== Number.isNaN(want[t][0])) {
          unequal++;
          continue;
        }
        if (hole) continue;
        compared++;
        // 1/256 px of place at a slope of at most 10 levels a px, and rounding of the result: at most 1 level.
        for (let c = 0; c < 3; c++) if (Math.abs(got.picture.data[i + c] - want[t][c]) > 1.01) unequal++;
      }
    }
    expect(compared).toBeGreaterThan(width * height * 0.6);
    expect(unequal / (width * height)).toBeLessThan(0.015);
  });

  test('one depth everywhere moves the whole picture by its parallax, exactly', () => {
    // d = 1 has parallax -12; the right eye from the centre sees half of it: 6 px to the left.
    const right = synthesizeView(
      smooth,
      depth(width, height, () => 1),
      { budget: WHITE_BLACK, sourceEye: 'centre', eye: 0.5, holes: 'row' },
    );
    const left = synthesizeView(
      smooth,
      depth(width, height, () => 1),
      { budget: WHITE_BLACK, sourceEye: 'centre', eye: -0.5, holes: 'row' },
    );
    for (let x = 10; x < width - 10; x++) {
      expect(right.picture.data[x * 4]).toBe(smooth.data[(x + 6) * 4]);
      expect(left.picture.data[x * 4]).toBe(smooth.data[(x - 6) * 4]);
    }
    expect(right.revealedCount).toBe(6 * height);
  });

  test('the source’s own eye gives the source back, bit for bit', () => {
    const chance = seeded(3);
    const map = depth(width, height, () => chance());
    for (const [sourceEye, eye] of [
      ['left', -0.5],
      ['centre', 0],
      ['right', 0.5],
    ] as const) {
      const view = synthesizeView(smooth, map, { budget: WHITE_BLACK, sourceEye, eye });
      expect(view.revealedCount).toBe(0);
      expect(Buffer.from(view.picture.data).equals(Buffer.from(smooth.data))).toBe(true);
    }
  });

  describe('a near bar before a far wall', () => {
    // Red wall far away, blue bar from 80 to 119 near; parallax differs by 16 px, of which each eye sees 8.
    const bar = (x: number): boolean => x >= 80 && x < 120;
    const scene = picture(width, height, (x, _y, c) => (bar(x) ? [0, 0, 255] : [200, 20, 20])[c]);
    const map = depth(width, height, (x) => (bar(x) ? 1 : 0));
    const budget = { nearPx: -16, farPx: 0 };

    test.each(['fill', 'row', 'keep'] as const)('opens a gap of exactly the jump, beside the bar (%s)', (holes) => {
      const right = synthesizeView(scene, map, { budget, sourceEye: 'centre', eye: 0.5, holes, edges: 'as-they-are' });
      const revealed = [...right.revealed.data.slice(0, width)].flatMap((v, x) => (v ? [x] : []));
      // The bar moves 8 px left in the right eye, so what opens lies at its right: 112 to 119, and nothing else.
      expect(revealed).toEqual([112, 113, 114, 115, 116, 117, 118, 119]);
      for (let x = 72; x < 112; x++) expect(right.picture.data[x * 4 + 2]).toBe(255);
      for (const x of revealed) {
        if (holes === 'keep') expect([...right.picture.data.slice(x * 4, x * 4 + 4)]).toEqual([0, 0, 0, 0]);
        else expect([...right.picture.data.slice(x * 4, x * 4 + 4)]).toEqual([200, 20, 20, 255]);
      }
      const left = synthesizeView(scene, map, { budget, sourceEye: 'centre', eye: -0.5, holes, edges: 'as-they-are' });
      expect([...left.revealed.data.slice(0, width)].flatMap((v, x) => (v ? [x] : []))).toEqual([
        80, 81, 82, 83, 84, 85, 86, 87,
      ]);
    });

    test('below the tear limit it stretches instead of tearing', () => {
      const view = synthesizeView(scene, map, { budget, sourceEye: 'centre', eye: 0.5, tearPx: 20 });
      expect(view.revealedCount).toBe(0);
    });

    test('grown by a pixel, the near side takes its mixed edge along', () => {
      const geometry = { budget, sourceEye: 'centre' as const, eye: 0.5, holes: 'keep' as const };
      const view = synthesizeView(scene, map, { ...geometry, edges: 'grown' });
      // Column 79 and 120 belong to the wall but go with the bar, as a mixed pixel would.
      expect(view.picture.data[71 * 4]).toBe(200);
      expect(view.revealed.data[112]).toBe(0);
      expect(view.revealed.data[113]).toBe(255);
    });

    test('a budget turned round puts black in front', () => {
      const view = synthesizeView(scene, map, {
        budget: { nearPx: 16, farPx: 0 },
        sourceEye: 'centre',
        eye: 0.5,
        holes: 'keep',
        edges: 'as-they-are' as const,
      });
      // The wall is nearer now and the bar moves right behind it; 8 px open at its left.
      expect([...view.revealed.data.slice(0, width)].flatMap((v, x) => (v ? [x] : []))).toEqual([
        80, 81, 82, 83, 84, 85, 86, 87,
      ]);
      expect(view.picture.data[122 * 4]).toBe(200);
    });
  });

  test('16 bits a channel give the same view as 8, 257 times as fine', () => {
    const chance = seeded(11);
    const map = depth(width, height, (x) => Math.floor(x / 20) / 12 + chance() * 0.002);
    const deep = {
      bits: 16 as const,
      alpha: 'premultiplied' as const,
      width,
      height,
      data: Uint16Array.from(smooth.data, (v) => v * 257),
    };
    const g = { budget: WHITE_BLACK, sourceEye: 'centre' as const, eye: 0.5, holes: 'row' as const };
    const a = synthesizeView(smooth, map, g);
    const b = synthesizeView(deep, map, g);
    expect(b.revealedCount).toBe(a.revealedCount);
    expect(
      Array.from(a.picture.data).reduce((most, v, i) => Math.max(most, Math.abs(b.picture.data[i] / 257 - v)), 0),
    ).toBeLessThanOrEqual(0.51);
  });

  test('every size works, also narrower than eight columns, and buffers can be used again', () => {
    for (const w of [1, 2, 3, 7, 8, 9, 15, 16, 17, 33]) {
      const small = picture(w, 3, (x) => x * 5);
      const buffers = viewBuffers(small);
      for (const d of [0, 1]) {
        const view = synthesizeView(
          small,
          depth(w, 3, () => d),
          { budget: { nearPx: -1, farPx: 0 }, sourceEye: 'left', eye: -0.5 },
          buffers,
        );
        expect([...view.picture.data]).toEqual([...small.data]);
      }
    }
  });

  test('refuses what makes no view, with both sizes or the limits named', () => {
    expect(() =>
      synthesizeView(
        smooth,
        depth(10, 5, () => 0),
        { budget: WHITE_BLACK, sourceEye: 'left', eye: 0.5 },
      ),
    ).toThrow('The depth map is 10 × 5 px but the picture is 203 × 5 px');
    const flat = depth(width, height, () => 0);
    expect(() =>
      synthesizeView(smooth, flat, { budget: { nearPx: -204, farPx: 0 }, sourceEye: 'left', eye: 0.5 }),
    ).toThrow('within the picture’s width'.replace('’', "'"));
    expect(() =>
      synthesizeView(smooth, flat, { budget: { nearPx: Number.NaN, farPx: 0 }, sourceEye: 'left', eye: 0.5 }),
    ).toThrow(/cannot be shown/);
    expect(() =>
      synthesizeView(smooth, flat, { budget: WHITE_BLACK, sourceEye: 'left', eye: 0.5, tearPx: -1 }),
    ).toThrow(/must not be negative/);
  });
});
