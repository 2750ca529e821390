import type { Viewing } from '@/core/stereo/units';
import { cardHeight, GAP, LINE, hangCards, hungPlates, PICTURED, spanLanes, spanPatch, type Hung } from './hang';
import { comfortStretch, scaleTicks } from './ruler';

const viewing: Viewing = { widthMm: 518.4, distanceMm: 650, eyesMm: 65, comfortArcmin: 60 };
const hung = (id: string | null, far: number, near: number, more: Partial<Hung> = {}): Hung => ({
  id,
  name: id ?? 'Back plate',
  near,
  far,
  hidden: false,
  locked: false,
  group: null,
  cut: true,
  ...more,
});

describe('the parallax scale', () => {
  test('has figures at round steps, at least 34 px apart, a fifth of a step between them, each at its own depth', () => {
    const ticks = scaleTicks({ nearPx: -20, farPx: 26 }, { unit: 'px', widthPx: 1600, viewing, length: 560 });
    expect(ticks.filter((t) => t.labelled).map((t) => t.value)).toEqual([-20, -15, -10, -5, 0, 5, 10, 15, 20, 25]);
    for (const t of ticks) expect(t.depth).toBeCloseTo((26 - t.value) / 46, 9);
    for (const [unit, length] of [
      ['%', 560],
      ['mm', 300],
      ['arcmin', 900],
    ] as const) {
      const shown = scaleTicks({ nearPx: -33.3, farPx: 7.7 }, { unit, widthPx: 1600, viewing, length })
        .filter((t) => t.labelled)
        .map((t) => t.depth * length)
        .sort((a, b) => a - b);
      for (let n = 1; n < shown.length; n++) expect(shown[n] - shown[n - 1]).toBeGreaterThanOrEqual(33.9);
    }
  });
  test('a budget without depth has no marks', () => {
    expect(scaleTicks({ nearPx: 3, farPx: 3 }, { unit: 'px', widthPx: 1600, viewing, length: 560 })).toEqual([]);
  });
  test('the comfort band is the stretch within both limits, whichever end is near', () => {
    expect(comfortStretch({ nearPx: -40, farPx: 40 }, { nearPx: -20, farPx: 30 })).toEqual({ from: 0.125, to: 0.75 });
    expect(comfortStretch({ nearPx: 40, farPx: -40 }, { nearPx: -20, farPx: 30 })).toEqual({ from: 0.25, to: 0.875 });
    expect(comfortStretch({ nearPx: 60, farPx: 80 }, { nearPx: -20, farPx: 30 })).toBeUndefined();
    expect(comfortStretch({ nearPx: 5, farPx: 5 }, { nearPx: -20, farPx: 30 })).toEqual({ from: 0, to: 1 });
  });
});

describe('cards on the board', () => {
  test('stand in the order of depth, far first, and never touch or leave the ruler', () => {
    for (const spans of [
      [[0, 1]],
      [
        [0, 1],
        [0.7, 0.9],
        [0.72, 0.88],
      ],
      [
        [0, 1],
        [0.9, 1],
        [0.95, 1],
        [0.97, 1],
      ],
      [
        [0, 1],
        [0, 0.1],
        [0, 0.05],
      ],
    ]) {
      const plates = hungPlates({
        depth: { revision: '', near: 1, far: 0, behind: null },
        plates: spans.slice(1).map(([far, near], n) => ({
          id: `p${n}`,
          name: 'x',
          matte: 'm',
          choice: null,
          piece: null,
          fill: null,
          strokes: [],
          overpaint: null,
          tearPx: null,
          tearSoftPx: null,
          keys: [],
          group: null,
          hidden: false,
          locked: false,
          depth: { revision: 'r', near, far },
        })),
      });
      const middles = plates.map((p) => p.near + p.far);
      expect(middles).toEqual([...middles].sort((a, b) => a - b));
      const { at, heights, lines } = hangCards(plates, 'p0', { top: 68, length: 560 });
      const gap = lines ? 4 : GAP;
      for (let n = 1; n < at.length; n++) expect(at[n]).toBeGreaterThanOrEqual(at[n - 1] + heights[n - 1] + gap - 1e-9);
      expect(at[0]).toBeGreaterThanOrEqual(68);
      expect(at[at.length - 1] + heights[at.length - 1]).toBeLessThanOrEqual(68 + 560 + 12);
    }
  });
  test('a card hangs at the middle of its span where nothing is in its way', () => {
    const { at, heights } = hangCards([hung('a', 0.4, 0.6)], null, { top: 68, length: 560 });
    expect(at).toEqual([68 + 280 - heights[0] / 2]);
  });
  test('with nine planned plates every card lies on the ruler and shows its name; forty scroll, none over the head', () => {
    const planned = (count: number) => [
      hung(null, 0, 1),
      ...Array.from({ length: count }, (_, n) => hung(`p${n}`, 0.5, 0.6, { cut: false })),
    ];
    const nine = hangCards(planned(9), null, { top: 68, length: 560 });
    expect(nine).toMatchObject({ scrolls: 0 });
    expect(Math.min(...nine.at)).toBeGreaterThanOrEqual(68);
    expect(Math.min(...nine.heights)).toBeGreaterThanOrEqual(LINE);
    const forty = hangCards(planned(39), null, { top: 68, length: 560 });
    expect(forty.scrolls).toBeGreaterThan(0);
    expect(Math.min(...forty.at)).toBe(68);
    const end = hangCards(planned(39), null, { top: 68, length: 560 }, forty.scrolls);
    expect(end.at[39] + end.heights[39]).toBeCloseTo(68 + 560 + 12, 6);
  });
  test('many cards lose their pictures, planned ones are a line', () => {
    expect(cardHeight(hung('a', 0, 1), false, PICTURED + 1)).toBeLessThan(cardHeight(hung('a', 0, 1), false, PICTURED));
    expect(cardHeight(hung('a', 0, 1, { cut: false }), false, 2)).toBeLessThan(40);
  });
  test('the span in work stands in the middle; spans that overlap stand in lanes', () => {
    expect(spanLanes([hung(null, 0, 1), hung('a', 0.2, 0.5), hung('b', 0.4, 0.6), hung('c', 0.7, 0.9)], 'c')).toEqual([
      126, 114, 94, 102,
    ]);
  });
  test('a span belongs to the back plate or to its plate', () => {
    expect(spanPatch(null, 0.9, 0.1)).toEqual({ span: { near: 0.9, far: 0.1 } });
    expect(spanPatch('a', 0.9, 0.1)).toEqual({ plates: [{ id: 'a', near: 0.9, far: 0.1 }] });
  });
});
