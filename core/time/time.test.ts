import { slackOf, withSlack } from './slack';
import { bezierAt, type Bezier } from './bezier';
import { easeAt, easeSchema } from './ease';
import { rateOf, secondsOf } from './rate';
import { mixNumbers, sample, type Track } from './track';

describe('cubic-bezier', () => {
  // The keywords of CSS Easing Functions Level 1 (W3C), 2.2.1, as the curves that it defines them by. Their values follow
  // from solving x(s) = time in closed form (Cardano), apart from the search that is tested.
  const curve = (a: number, b: number, s: number): number =>
    3 * s * (1 - s) ** 2 * a + 3 * s * s * (1 - s) * b + s ** 3;
  function solved([x1, y1, x2, y2]: Bezier, time: number): number {
    // s^3 (1 + 3 x1 - 3 x2) + s^2 (3 x2 - 6 x1) + s 3 x1 - time = 0, by Newton in many steps from everywhere.
    let best = 0;
    for (let start = 0; start <= 1; start += 0.05) {
      let s = start;
      for (let n = 0; n < 60; n++) {
        const slope = 3 * (1 - s) ** 2 * x1 + 6 * s * (1 - s) * (x2 - x1) + 3 * s * s * (1 - x2);
        if (Math.abs(slope) < 1e-12) break;
        s -= (curve(x1, x2, s) - time) / slope;
      }
      if (s >= 0 && s <= 1 && Math.abs(curve(x1, x2, s) - time) < 1e-12) best = s;
    }
    return curve(y1, y2, best);
  }
  test.each([
    ['ease', [0.25, 0.1, 0.25, 1]],
    ['ease-in', [0.42, 0, 1, 1]],
    ['ease-out', [0, 0, 0.58, 1]],
    ['ease-in-out', [0.42, 0, 0.58, 1]],
    ['over the end', [0.3, -0.6, 0.4, 1.7]],
  ] as const)('%s', (_, bezier) => {
    for (const time of [0.05, 0.2, 0.37, 0.5, 0.71, 0.93])
      expect(bezierAt(bezier, time)).toBeCloseTo(solved(bezier, time), 9);
    expect([bezierAt(bezier, 0), bezierAt(bezier, 1)]).toEqual([0, 1]);
  });

  test('ease-in-out is half way at half time, and symmetrical', () => {
    expect(easeAt('gentle', 0.5)).toBeCloseTo(0.5, 12);
    for (const t of [0.1, 0.3]) expect(easeAt('gentle', t) + easeAt('gentle', 1 - t)).toBeCloseTo(1, 12);
  });

  test('linear is the time itself; hold stays until its end', () => {
    expect([0, 0.123, 1].map((t) => easeAt('linear', t))).toEqual([0, 0.123, 1]);
    expect([0, 0.999, 1].map((t) => easeAt('hold', t))).toEqual([0, 0, 1]);
  });

  test('a curve of one’s own must not run back in time', () => {
    expect(easeSchema.safeParse([0.2, -1, 0.4, 2]).success).toBe(true);
    expect(easeSchema.safeParse([-0.1, 0, 0.4, 1]).success).toBe(false);
    expect(easeSchema.safeParse([0.1, 0, 1.2, 1]).success).toBe(false);
  });
});

describe('slack', () => {
  test('is how long an ease takes to get going and to come to rest', () => {
    const { out, in: coming } = slackOf('gentle', 50);
    expect([out, coming]).toEqual([21, expect.closeTo(21, 9)]);
    expect(slackOf('hold', 50)).toEqual({ out: 0, in: 0 });
    expect(slackOf('linear', 50)).toEqual({ out: 0, in: 0 });
  });
  test('one end is changed, the other stays; it never runs back in time', () => {
    // 14 of 30 frames coming in: 1 - 14/30 = 0.533.
    expect(withSlack([0.27, 0, 0.9, 1], 30, 'in', 14)).toEqual([0.27, 0, 0.533, 1]);
    expect(withSlack('late', 30, 'out', 99)).toEqual([1, 0, 0.84, 0.4]);
    expect(withSlack('hold', 30, 'out', 6)).toEqual([0.2, 0, 1, 1]);
    expect(easeSchema.safeParse(withSlack('gentle', 30, 'in', -4)).success).toBe(true);
  });
});

describe('a track', () => {
  const track: Track<number> = {
    keys: [
      { frame: 10, value: 4, ease: 'linear' },
      { frame: 20, value: 8, ease: 'hold' },
      { frame: 30, value: 0, ease: 'linear' },
    ],
  };
  test('goes from key to key, and stays before the first and after the last', () => {
    const at = (frame: number): number => sample(track, frame, mixNumbers);
    expect([0, 10, 12.5, 20, 29.9, 30, 99].map(at)).toEqual([4, 4, 5, 8, 8, 0, 0]);
  });
});

describe('rates', () => {
  test('those of television are exact', () => {
    expect([23.976, 23.98, 29.97, 59.94].map(rateOf)).toEqual([
      { numerator: 24000, denominator: 1001 },
      { numerator: 24000, denominator: 1001 },
      { numerator: 30000, denominator: 1001 },
      { numerator: 60000, denominator: 1001 },
    ]);
    expect(rateOf(25)).toEqual({ numerator: 25, denominator: 1 });
    expect(rateOf(12.5)).toEqual({ numerator: 12500, denominator: 1000 });
  });
  test('1800 frames at 29.97 last 60.06 s', () => {
    expect(secondsOf(1800, 29.97)).toBeCloseTo(60.06, 10);
  });
});
