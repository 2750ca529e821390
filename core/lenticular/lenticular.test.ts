import { seeded } from '@/tests/support/chance';
import { interlaceRows } from './interlace';
import { planSheet, printPitch, viewAtColumn, type SheetPlan } from './pitch';
import { designSight, simulateLens } from './simulateLens';

/** A whole sheet in memory. */
function sheetOf(plan: SheetPlan, views: readonly Uint8Array[]): Uint8Array {
  const out = new Uint8Array(plan.columns * plan.rows * 3);
  let y = 0;
  for (const row of interlaceRows(plan, (v, line, into) => {
    into.set(views[v].subarray(line * plan.viewWidth * 3, (line + 1) * plan.viewWidth * 3));
  }))
    out.set(row, y++ * plan.columns * 3);
  expect(y).toBe(plan.rows);
  return out;
}

describe('the interlace formula', () => {
  test('worked columns at 720 dpi and 75.1 lpi with 9 views', () => {
    const plan = planSheet({ widthMm: 200, lpi: 75.1, dpi: 720, views: 9, viewWidth: 1600, viewHeight: 1000 });
    // By hand: one column is 75.1/720 = 0.1043056 of a lens; column 0 lies at u = 0.0521528, view floor(0.9478472 * 9) = 8.
    expect(plan.columnsPerLens).toBeCloseTo(9.587217, 6);
    expect(viewAtColumn(plan, 0)).toBe(8);
    expect(viewAtColumn(plan, 1)).toBe(7); // u = 0.1564583, (1 - u) * 9 = 7.592
    expect(viewAtColumn(plan, 4)).toBe(4); // u = 0.469375, 4.776
    expect(viewAtColumn(plan, 8)).toBe(1); // u = 0.8865972, 1.021
    expect(viewAtColumn(plan, 9)).toBe(0); // u = 0.9909028, 0.082
    expect(viewAtColumn(plan, 10)).toBe(8); // u = 1.0952083 - 1, 8.143
    // Nothing drifts: column 5668, the last, lies at lens 591.2599, u = 0.2559..., (1 - u) * 9 = 6.69...
    const phase = (5668.5 / 720) * 75.1;
    expect(viewAtColumn(plan, 5668)).toBe(Math.floor((1 - (phase - Math.floor(phase))) * 9));
    expect(plan.columns).toBe(5669);
    expect(plan.lenses).toBeCloseTo(591.3, 1);
  });

  test('the lens swap turns the order round', () => {
    const spec = { widthMm: 100, lpi: 60, dpi: 600, views: 5, viewWidth: 100, viewHeight: 50 };
    const plain = planSheet(spec);
    const swapped = planSheet({ ...spec, lensSwap: true });
    for (let c = 0; c < 200; c++) expect(viewAtColumn(swapped, c)).toBe(4 - viewAtColumn(plain, c));
    // Without it the leftmost view lies rightmost under a lens: at 10 columns a lens, column 9.
    expect(viewAtColumn(plain, 9)).toBe(0);
  });

  test('a viewer nearby sees a coarser pitch: similar triangles', () => {
    expect(printPitch(75.13, 400, 0.3)).toBeCloseTo((75.13 * 400) / 400.3, 12);
    expect(printPitch(75.13, Infinity, 0.3)).toBe(75.13);
  });

  test('refuses numbers that make no sheet', () => {
    const spec = { widthMm: 100, lpi: 60, dpi: 600, views: 5, viewWidth: 100, viewHeight: 50 };
    expect(() => planSheet({ ...spec, lpi: 0 })).toThrow('The lens pitch is 0 lpi');
    expect(() => planSheet({ ...spec, dpi: 100 })).toThrow('only 1.67 columns under a lens');
    expect(() => planSheet({ ...spec, views: 1 })).toThrow('between 2 and 200');
    expect(() => planSheet({ ...spec, widthMm: Number.NaN })).toThrow('The sheet width');
    expect(() => planSheet({ ...spec, viewHeight: 100_000_000 })).toThrow('The sheet is');
  });
});

describe('a sheet through the lens simulator', () => {
  test.each([
    [60, 720, 12],
    [75.1, 720, 9],
    [40.37, 600, 14],
  ])('gives flat grey views back at their design angles (%p lpi, %p dpi, %p views)', (lpi, dpi, views) => {
    const plan = planSheet({ widthMm: 60, lpi, dpi, views, viewWidth: 50, viewHeight: 3 });
    const greys = Array.from({ length: views }, (_, v) => new Uint8Array(50 * 3 * 3).fill(10 + v * 15));
    const print = sheetOf(plan, greys);
    for (let v = 0; v < views; v++) {
      const seen = simulateLens(print, plan, designSight(plan, v));
      expect(seen.width).toBeGreaterThan(plan.lenses - 2);
      // A column's centre lies within half a column of the sight line; with about one column a view, an eye may meet the next
      // view, but never one beyond.
      expect(Math.max(...seen.data.map((d) => Math.abs(d - (10 + v * 15))))).toBeLessThanOrEqual(15);
      const exact = seen.data.filter((d) => d === 10 + v * 15).length / seen.data.length;
      // Half a column to either side against a view's share of at least three quarters of a column: most meet their own view.
      expect(exact).toBeGreaterThan(0.49);
    }
  });

  test('whole columns a lens, one a view: real views come back exactly', () => {
    const chance = seeded(2);
    const views = 12;
    const lpi = 60;
    const dpi = 720;
    const lenses = 100;
    const rows = 7;
    // One view column a lens and one row a printed row: no resampling either way.
    const plan = planSheet({ widthMm: (lenses / lpi) * 25.4, lpi, dpi, views, viewWidth: lenses, viewHeight: rows });
    const real = Array.from({ length: views }, () =>
      Uint8Array.from({ length: lenses * rows * 3 }, () => Math.floor(chance() * 256)),
    );
    const print = sheetOf({ ...plan, rows }, real);
    for (let v = 0; v < views; v++) {
      const seen = simulateLens(print, { ...plan, rows }, designSight(plan, v));
      expect(seen.width).toBe(lenses);
      expect(Buffer.from(seen.data).equals(Buffer.from(real[v]))).toBe(true);
    }
  });

  test('rows are blended linearly between the views’ rows', () => {
    const plan = { ...planSheet({ widthMm: 20, lpi: 50, dpi: 200, views: 2, viewWidth: 4, viewHeight: 2 }), rows: 4 };
    const ramp = Uint8Array.from([...new Array<number>(12).fill(0), ...new Array<number>(12).fill(200)]);
    const print = sheetOf(plan, [ramp, ramp]);
    // Row centres 0.5, 1.5, 2.5, 3.5 of 4 lie at -0.25, 0.25, 0.75, 1.25 of the views' rows.
    expect([0, 1, 2, 3].map((y) => print[y * plan.columns * 3])).toEqual([0, 50, 150, 200]);
  });
});
