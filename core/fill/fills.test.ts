import { applyFillEdit, fillEditSchema, type FillEdit, type FillGround } from './edits';
import { seeded } from '@/tests/support/chance';
import { pictureOf, type Mask, type Picture16, type Premultiplied8, type Straight8 } from '../raster/picture';
import { fillHole } from '../inpaint/fillHole';
import { seamlessClone } from '../inpaint/seamlessClone';

const picture = (
  width: number,
  height: number,
  colour: (x: number, y: number) => readonly number[],
): Premultiplied8 => {
  const data = new Uint8Array(width * height * 4);
  for (let i = 0; i < width * height; i++)
    data.set([...colour(i % width, Math.floor(i / width)), 255].slice(-4), i * 4);
  return { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data };
};
const mask = (width: number, height: number, inside: (x: number, y: number) => boolean): Mask => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, i) => (inside(i % width, Math.floor(i / width)) ? 255 : 0)),
});
const at = (p: { width: number; data: ArrayLike<number> }, x: number, y: number): number[] =>
  [0, 1, 2].map((c) => p.data[(y * p.width + x) * 4 + c]);

describe('texture fill', () => {
  const stripes = picture(120, 80, (x, y) => (Math.floor(x / 6) % 2 ? [200, 180 - y, 60] : [60, 80, 120 + y]));
  const hole = mask(120, 80, (x, y) => Math.hypot(x - 60, y - 40) < 17);
  test('leaves every pixel outside the hole as it is, bit for bit, and alpha everywhere', () => {
    const clear = { ...stripes, data: stripes.data.map((v, i) => ((i & 3) === 3 ? i % 200 : v)) };
    for (const method of ['texture', 'smooth'] as const) {
      const out = fillHole(clear, hole, method);
      const changed = out.data.findIndex((v, i) => (hole.data[i >> 2] === 0 || (i & 3) === 3) && v !== clear.data[i]);
      expect(changed).toBe(-1);
    }
  });
  test('continues a strict pattern where it stood', () => {
    const out = fillHole(stripes, hole, 'texture', { seed: 3 });
    let off = 0;
    let n = 0;
    for (let i = 0; i < hole.data.length; i++)
      if (hole.data[i])
        for (let c = 0; c < 3; c++) {
          off += Math.abs(out.data[i * 4 + c] - stripes.data[i * 4 + c]);
          n++;
        }
    // Colours run slowly from top to bottom, so that no patch fits exactly; a wrong stripe would be off by a hundred.
    expect(off / n).toBeLessThan(6);
  });
  test('the same seed gives the same fill, another one another', () => {
    const chance = seeded(4);
    const noise = picture(90, 70, () => [chance() * 255, chance() * 255, chance() * 255]);
    const gap = mask(90, 70, (x, y) => x > 30 && x < 60 && y > 20 && y < 50);
    const filled = fillHole(noise, gap, 'texture', { seed: 1 });
    expect(fillHole(noise, gap, 'texture', { seed: 1 })).toEqual(filled);
    expect(fillHole(noise, gap, 'texture', { seed: 2 })).not.toEqual(filled);
  });
  test('samples only where it may', () => {
    const two = picture(140, 60, (x, y) => (x < 70 ? [200 + (y % 3) * 8, 40, 40] : [40, 40, 200 + (y % 3) * 8]));
    const gap = mask(140, 60, (x, y) => x >= 40 && x < 60 && y > 15 && y < 45);
    const out = fillHole(two, gap, 'texture', { sampleFrom: mask(140, 60, (x) => x >= 70) });
    // The seam is matched, the middle is of the right side's colour.
    expect(at(out, 50, 30)[2]).toBeGreaterThan(at(out, 50, 30)[0]);
  });
  test('16 bits stay 16 bits: an even wall comes back to the value', () => {
    const wall: Picture16 = {
      bits: 16 as const,
      alpha: 'premultiplied' as const,
      width: 60,
      height: 50,
      data: Uint16Array.from({ length: 12000 }, (_, i) => [40123, 20011, 9999, 65535][i & 3]),
    };
    const out = fillHole(
      wall,
      mask(60, 50, (x, y) => x > 20 && x < 40 && y > 15 && y < 35),
      'texture',
    );
    expect(at(out, 30, 25)).toEqual([40123, 20011, 9999]);
  });
  test('reports progress, can be stopped from within, and says what is wrong', () => {
    const shares: number[] = [];
    fillHole(stripes, hole, 'texture', {
      onProgress: (s) => {
        shares.push(s);
      },
    });
    expect(shares.length).toBeGreaterThan(2);
    expect([...shares].sort((a, b) => a - b)).toEqual(shares);
    expect(() =>
      fillHole(stripes, hole, 'texture', {
        onProgress: () => {
          throw new Error('stopped');
        },
      }),
    ).toThrow('stopped');
    const none = mask(120, 80, () => false);
    expect(() => fillHole(stripes, none, 'texture')).toThrow('There is nothing to fill');
    expect(() => fillHole(stripes, hole, 'texture', { sampleFrom: none })).toThrow('There is nothing to sample from');
    expect(() =>
      fillHole(
        stripes,
        mask(120, 80, () => true),
        'smooth',
      ),
    ).toThrow('covers the whole picture');
    expect(() =>
      fillHole(
        stripes,
        mask(10, 10, () => true),
        'texture',
      ),
    ).toThrow('10 × 10 px');
  });
});

describe('seamless clone', () => {
  test('a piece that differs by a constant, or by a plane, becomes the picture itself', () => {
    const ground = picture(60, 50, (x, y) => [60 + x, 80 + y, 100 + (x + y) / 2]);
    const gap = mask(60, 50, (x, y) => x >= 15 && x < 45 && y >= 12 && y < 40);
    for (const off of [() => -30, (x: number, y: number) => x / 3 - y / 2 - 20]) {
      const out = { ...ground, data: ground.data.slice() };
      // Gradients differ by those of a plane, which is harmonic: the membrane takes all of it away.
      seamlessClone(
        out,
        picture(60, 50, (x, y) =>
          [60 + x + off(x, y), 80 + y + off(x, y), 100 + (x + y) / 2 + off(x, y)].map(Math.round),
        ),
        gap,
      );
      expect(
        Array.from(out.data).reduce((most, v, i) => Math.max(most, Math.abs(v - ground.data[i])), 0),
      ).toBeLessThanOrEqual(1);
    }
  });
});

describe('filling by hand', () => {
  const ground = (): FillGround => ({
    picture: picture(100, 60, (x, y) => [x * 2, y * 4, (x + y) & 255]),
    hidden: mask(100, 60, (x) => x >= 60),
    left: 0,
    top: 0,
    scale: 1,
  });
  const empty = (): Straight8 => pictureOf({ width: 100, height: 60 }, new Uint8Array(24000), 'straight');
  const clone = (more: Partial<Extract<FillEdit, { kind: 'clone' }>> = {}): FillEdit => ({
    kind: 'clone',
    size: 10,
    hardness: 1,
    strength: 1,
    points: [{ x: 75, y: 30 }],
    sources: [{ dx: -50, dy: 0 }],
    scale: 1,
    turn: 0,
    flip: false,
    jitter: 0,
    seed: 1,
    seamless: false,
    beyond: false,
    ...more,
  });
  const done = (edit: FillEdit, on = ground()): Straight8 => {
    const fill = empty();
    applyFillEdit({ ground: on, targets: { fill, overpaint: empty() } }, edit);
    return fill;
  };

  test('a clone copies what lies where its source is, unchanged, and only into what is hidden', () => {
    const fill = done(clone());
    for (const [x, y] of [
      [75, 30],
      [72, 28],
      [78, 33],
    ])
      expect(at(fill, x, y)).toEqual(at(ground().picture, x - 50, y));
    expect(fill.data[(30 * 100 + 90) * 4 + 3]).toBe(0);
    const wide = done(clone({ size: 60 }));
    for (let y = 0; y < 60; y++) for (let x = 0; x < 60; x++) expect(wide.data[(y * 100 + x) * 4 + 3]).toBe(0);
    // What may go beyond lands over the plate's own pixels in a picture apart; behind nearer plates it is a fill all the same.
    const both = { fill: empty(), overpaint: empty() };
    const touched = applyFillEdit({ ground: ground(), targets: both }, clone({ size: 60, beyond: true }));
    expect(
      [both.fill, both.overpaint].map((p) => [p.data[(30 * 100 + 55) * 4 + 3], p.data[(30 * 100 + 75) * 4 + 3]]),
    ).toEqual([
      [0, 255],
      [255, 0],
    ]);
    expect(touched).toEqual({ left: 45, top: 0, right: 100, bottom: 60 });
  });
  test('flipped, turned and scaled it copies about the stroke’s first point', () => {
    expect(at(done(clone({ flip: true })), 78, 30)).toEqual(at(ground().picture, 21, 30));
    expect(at(done(clone({ turn: 180 })), 78, 32)).toEqual(at(ground().picture, 21, 27));
    const twice = at(done(clone({ scale: 2 })), 79, 30);
    expect(Math.abs(twice[0] - 2 * 27)).toBeLessThanOrEqual(2);
  });
  test('several sources take turns, jitter moves each dab, by its seed', () => {
    const path = Array.from({ length: 20 }, (_, n) => ({ x: 65 + n, y: 30 }));
    const two = done(
      clone({
        points: path,
        sources: [
          { dx: -50, dy: 0 },
          { dx: -50, dy: 20 },
        ],
      }),
    );
    const greens = new Set(Array.from({ length: 18 }, (_, n) => at(two, 66 + n, 30)[1]));
    expect(greens).toEqual(new Set([120, 200]));
    const shaken = done(clone({ points: path, jitter: 8 }));
    expect(shaken).toEqual(done(clone({ points: path, jitter: 8 })));
    expect(shaken).not.toEqual(done(clone({ points: path, jitter: 8, seed: 2 })));
  });
  test('half its strength is half of it; a soft brush fades to nothing at its edge', () => {
    const half = done(clone({ strength: 0.5 }));
    expect(Math.abs(at(half, 75, 30)[0] - (150 + 50) / 2)).toBeLessThanOrEqual(1);
    const soft = done(clone({ size: 20, hardness: 0 }));
    expect(Math.abs(at(soft, 75, 30)[0] - 50)).toBeLessThan(12);
    expect(Math.abs(at(soft, 83, 30)[0] - 166)).toBeLessThan(30);
  });
  test('seamless, the piece’s own shading stays and its level becomes that of where it lands', () => {
    const fill = done(clone({ size: 20, seamless: true }));
    // A plane of colours moved along itself meets itself.
    expect(Math.abs(at(fill, 75, 30)[0] - 150)).toBeLessThanOrEqual(2);
  });
  test('erasing takes the fill back', () => {
    const on = ground();
    const fill = empty();
    applyFillEdit({ ground: on, targets: { fill, overpaint: empty() } }, clone());
    applyFillEdit(
      { ground: on, targets: { fill, overpaint: empty() } },
      { kind: 'erase', size: 30, hardness: 1, strength: 1, points: [{ x: 75, y: 30 }] },
    );
    expect([...fill.data].filter((_, i) => (i & 3) === 3).some((v) => v > 0)).toBe(false);
  });
  test('a piece is copied to its four corners: moved it is unchanged, turned round it is mirrored twice', () => {
    const points = [
      { x: 10, y: 10 },
      { x: 30, y: 10 },
      { x: 30, y: 30 },
      { x: 10, y: 30 },
    ];
    const corner = (x: number, y: number): { x: number; y: number } => ({ x, y });
    const moved = done({
      kind: 'copy',
      points,
      corners: [corner(70, 20), corner(90, 20), corner(90, 40), corner(70, 40)],
      soft: 0,
      seamless: false,
      beyond: false,
    });
    expect(at(moved, 75, 25)).toEqual(at(ground().picture, 15, 15));
    const round = done({
      kind: 'copy',
      points,
      corners: [corner(90, 40), corner(70, 40), corner(70, 20), corner(90, 20)],
      soft: 0,
      seamless: false,
      beyond: false,
    });
    expect(at(round, 75, 25)).toEqual(at(ground().picture, 24, 24));
    // In perspective the middle of the box comes to where the corners' diagonals cross.
    const trapeze = done({
      kind: 'copy',
      points,
      corners: [corner(70, 20), corner(90, 20), corner(85, 40), corner(75, 40)],
      soft: 0,
      seamless: false,
      beyond: false,
    });
    const cross = at(trapeze, 80, 33);
    const middle = at(ground().picture, 20, 20);
    expect(Math.abs(cross[0] - middle[0])).toBeLessThanOrEqual(3);
    expect(Math.abs(cross[1] - middle[1])).toBeLessThanOrEqual(8);
    expect(() =>
      done({
        kind: 'copy',
        points,
        corners: [corner(70, 20), corner(80, 20), corner(90, 20), corner(95, 20)],
        soft: 0,
        seamless: false,
        beyond: false,
      }),
    ).toThrow('lie on one line');
  });
  test('a line goes on from one end to the other', () => {
    const bar: FillGround = {
      picture: picture(100, 60, (x, y) => (Math.abs(y - 30) < 4 && x < 60 ? [200, 30, 30] : [90, 90, 90])),
      hidden: mask(100, 60, (x) => x >= 60 && x < 90),
      left: 0,
      top: 0,
      scale: 1,
    };
    const fill = done(
      {
        kind: 'line',
        points: [
          { x: 58, y: 30.5 },
          { x: 91, y: 30.5 },
        ],
        width: 16,
        beyond: false,
      },
      bar,
    );
    expect(at(fill, 62, 30)[0]).toBeGreaterThan(180);
    expect(at(fill, 62, 36)[0]).toBeLessThan(110);
    // There is no bar at the other end: it fades on the way.
    expect(at(fill, 88, 30)[0]).toBeLessThan(130);
  });
  test('a bent line is continued around its bend', () => {
    // A red bar comes from the left at y 16 and goes on down at x 75, below the hole.
    const bar: FillGround = {
      picture: picture(100, 60, (x, y) =>
        (Math.abs(y + 0.5 - 16) < 4 && x < 60) || (Math.abs(x + 0.5 - 75) < 4 && y >= 45)
          ? [200, 30, 30]
          : [90, 90, 90],
      ),
      hidden: mask(100, 60, (x, y) => x >= 60 && x < 90 && y < 45),
      left: 0,
      top: 0,
      scale: 1,
    };
    const points = [
      { x: 58, y: 16 },
      { x: 75, y: 16 },
      { x: 75, y: 47 },
    ];
    const fill = done({ kind: 'line', points, width: 20, beyond: false }, bar);
    for (const [x, y] of [
      [63, 16],
      [70, 17],
      [75, 18],
      [75, 30],
      [74, 42],
    ])
      expect([x, y, at(fill, x, y)[0] > 180]).toEqual([x, y, true]);
    // Beside the bar its ground goes on, on both sides of it.
    for (const [x, y] of [
      [65, 22],
      [65, 10],
      [69, 30],
      [81, 30],
    ])
      expect([x, y, at(fill, x, y)[0] < 110]).toEqual([x, y, true]);
  });
  test('what lands nowhere says so, and nonsense from outside is refused', () => {
    expect(() => done(clone({ points: [{ x: 20, y: 30 }] }))).toThrow('only what lies behind nearer plates is filled');
    for (const bad of [
      { ...clone(), size: 0 },
      { ...clone(), sources: [] },
      { ...clone(), points: [] },
      { ...clone(), jitter: -1 },
      {
        kind: 'line',
        points: [
          { x: 0, y: 0 },
          { x: Infinity, y: 0 },
        ],
        width: 9,
        beyond: false,
      },
      {
        kind: 'line',
        points: [
          { x: 0, y: 0 },
          { x: 0, y: 0 },
        ],
        width: 9,
        beyond: false,
      },
      { kind: 'line', points: [{ x: 0, y: 0 }], width: 9, beyond: false },
    ])
      expect(fillEditSchema.safeParse(bad).success).toBe(false);
  });
});
