import { seeded } from '@/tests/support/chance';
import { ownKernels } from '../kernels/kernels';
import { exemplarFill } from './exemplarFill';
import { halfLevel, PatchField, PATCH_REACH, type PatchLevel } from './patchLevel';

type Colour = readonly [number, number, number];
/** A level whose colours, open pixels and sampled pixels are functions of x and y. */
function level(
  [width, height]: readonly [number, number],
  colour: (x: number, y: number) => Colour,
  open: (x: number, y: number) => boolean,
  from: (x: number, y: number) => boolean = () => true,
): PatchLevel {
  const n = width * height;
  const picture = new Uint8Array(n * 4);
  const hole = new Uint8Array(n);
  const may = new Uint8Array(n);
  for (let i = 0; i < n; i++) {
    const x = i % width;
    const y = Math.floor(i / width);
    if (open(x, y)) hole[i] = 1;
    else picture.set(colour(x, y), i * 4);
    if (from(x, y)) may[i] = 1;
  }
  return { width, height, picture, hole, from: may };
}
const at = ({ width, picture }: PatchLevel, x: number, y: number): number[] => [
  ...picture.slice((y * width + x) * 4, (y * width + x) * 4 + 3),
];
const middle = (x: number, y: number): boolean => x >= 24 && x < 36 && y >= 18 && y < 28;

describe('a level of half the size', () => {
  test('is open where any pixel is, sampled where all may be, and has the mean of the known colours', () => {
    const half = halfLevel(
      level(
        [4, 2],
        (x) => [x * 10, 100, 7],
        (x, y) => x === 1 && y === 0,
        (x) => x < 3,
      ),
    );
    expect(half).toMatchObject({ width: 2, height: 1 });
    expect([...half.hole]).toEqual([1, 0]);
    expect([...half.from]).toEqual([1, 0]);
    // Of x 0, 0 and 1 (the fourth is open): (0 + 0 + 10) / 3 = 3.3; of 2, 3, 2, 3: 25.
    expect([at(half, 0, 0), at(half, 1, 0)]).toEqual([
      [3, 100, 7],
      [25, 100, 7],
    ]);
  });
  test('where nothing is known it says nothing', () => {
    expect(
      at(
        halfLevel(
          level(
            [2, 2],
            () => [9, 9, 9],
            () => true,
          ),
        ),
        0,
        0,
      ),
    ).toEqual([0, 0, 0]);
  });
});

describe('a field of patches', () => {
  const gapped = level(
    [60, 46],
    (x, y) => [x * 4, y * 5, 40],
    middle,
    (x) => x < 50,
  );

  test('has as targets all patches that touch the hole, as sources all that lie wholly where they may', () => {
    const field = new PatchField(gapped, ownKernels());
    const targets: number[] = [];
    const sources: number[] = [];
    const r = PATCH_REACH;
    for (let y = r; y < 46 - r; y++) {
      for (let x = r; x < 60 - r; x++) {
        let touches = false;
        let whole = true;
        for (let v = y - r; v <= y + r; v++)
          for (let u = x - r; u <= x + r; u++) {
            if (middle(u, v)) {
              touches = true;
              whole = false;
            }
            if (u >= 50) whole = false;
          }
        if (touches) targets.push(y * 60 + x);
        if (whole) sources.push(y * 60 + x);
      }
    }
    expect([...field.targets]).toEqual(targets);
    expect([...field.sources]).toEqual(sources);
    expect(field.open).toBe(12 * 10);
    // The ring of known pixels around a box: one a pixel of each side.
    expect(field.pixels.length - field.open).toBe(2 * (12 + 10));
  });

  test('a guess that may not lie there is replaced by chance with one that may', () => {
    const field = new PatchField(gapped, ownKernels());
    const may = new Set(field.sources);
    field.guess(() => 23 * 60 + 55, seeded(3));
    for (const q of field.found) expect(may.has(q)).toBe(true);
    const [good] = field.sources;
    field.guess(() => good, seeded(3));
    expect(new Set(field.found)).toEqual(new Set([good]));
  });

  test('searching never gets worse, and finds a perfect match where the pattern repeats', () => {
    // A pattern that repeats every 8 px across: with the hole filled as it should be, every patch has its like
    // elsewhere in its row.
    const chance = seeded(9);
    const columns = Array.from({ length: 8 }, (): Colour => [
      Math.floor(chance() * 256),
      Math.floor(chance() * 256),
      Math.floor(chance() * 256),
    ]);
    const whole = level([60, 46], (x) => columns[x % 8], middle);
    for (let y = 18; y < 28; y++) for (let x = 24; x < 36; x++) whole.picture.set(columns[x % 8], (y * 60 + x) * 4);
    const field = new PatchField(whole, ownKernels());
    field.guess(() => -1, seeded(1));
    const sums = [1, 2, 3, 4, 5, 6].map((turn) => field.search(turn % 2 === 0, turn));
    for (let n = 1; n < sums.length; n++) expect(sums[n]).toBeLessThanOrEqual(sums[n - 1]);
    const perfect = field.targets.reduce(
      (n, target, k) => n + ((target % 60) % 8 === (field.found[k] % 60) % 8 ? 1 : 0),
      0,
    );
    expect(perfect / field.targets.length).toBeGreaterThan(0.95);
    // All that voted agree, so the votes are the pattern itself.
    const votes = field.vote(1);
    let right = 0;
    for (let n = 0; n < field.open; n++)
      if (Math.abs(votes[n * 4] - columns[(field.pixels[n] % 60) % 8][0]) < 2) right++;
    expect(right / field.open).toBeGreaterThan(0.95);
  });

  test('votes for one colour are that colour, however they are weighted; taken, they land in the hole only', () => {
    const even = level([60, 46], () => [90, 120, 30], middle);
    const before = even.picture.slice();
    const field = new PatchField(even, ownKernels());
    field.guess(() => -1, seeded(2));
    for (const equal of [true, false]) {
      field.search(false, 1);
      const votes = field.vote(1, false, equal);
      for (let n = 0; n < field.open; n++)
        for (const [c, v] of [90, 120, 30].entries()) expect(votes[n * 4 + c]).toBeCloseTo(v, 2);
      field.take(votes);
    }
    for (let i = 0; i < even.hole.length; i++)
      if (!even.hole[i]) expect([...even.picture.slice(i * 4, i * 4 + 4)]).toEqual([...before.slice(i * 4, i * 4 + 4)]);
    expect(at(even, 30, 22)).toEqual([90, 120, 30]);
  });
});

describe('filling patch by patch', () => {
  test('carries a bar straight through the hole before its surroundings close in', () => {
    const bar = (y: number): Colour => (y >= 21 && y < 25 ? [20, 20, 20] : [220, 210, 190]);
    const gapped = level([60, 46], (_x, y) => bar(y), middle);
    exemplarFill(gapped);
    for (let y = 18; y < 28; y++) for (let x = 24; x < 36; x++) expect(at(gapped, x, y)).toEqual([...bar(y)]);
  });

  test('takes nothing from where it may not', () => {
    const gapped = level(
      [60, 46],
      (x) => (x < 30 ? [40, 80, 160] : [200, 60, 50]),
      middle,
      (x) => x < 22,
    );
    exemplarFill(gapped);
    for (let y = 18; y < 28; y++) for (let x = 24; x < 36; x++) expect(at(gapped, x, y)).toEqual([40, 80, 160]);
  });

  test('without a whole patch to take it leaves the hole as it was, and chance gives another filling', () => {
    const none = level(
      [60, 46],
      () => [9, 9, 9],
      middle,
      () => false,
    );
    exemplarFill(none);
    expect(at(none, 30, 22)).toEqual([0, 0, 0]);
    const noise = seeded(4);
    const values = Array.from({ length: 60 * 46 }, () => Math.floor(noise() * 256));
    const make = (chance?: () => number): Uint8Array => {
      const gapped = level([60, 46], (x, y) => [values[y * 60 + x], 0, 0], middle);
      exemplarFill(gapped, chance);
      return gapped.picture;
    };
    expect(make()).toEqual(make());
    expect(make(seeded(1))).toEqual(make(seeded(1)));
    expect(make(seeded(1))).not.toEqual(make(seeded(2)));
  });
});
