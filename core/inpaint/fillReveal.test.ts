import { synthesizeView } from '../stereo/synthesizeView';

describe('fillReveal', () => {
  const width = 120;
  const height = 80;
  // A wall whose brightness rises evenly downwards, and a near green disc before it.
  const disc = (x: number, y: number): boolean => (x - 60) ** 2 + (y - 40) ** 2 < 400;
  const data = new Uint8Array(width * height * 4);
  const map = new Uint16Array(width * height);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      data.set(disc(x, y) ? [0, 255, 0, 255] : [40 + y * 2, 0, 200 - y * 2, 255], i * 4);
      map[i] = disc(x, y) ? 65535 : 0;
    }
  }
  const view = (holes: 'fill' | 'row') =>
    synthesizeView(
      { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data },
      { width, height, data: map },
      { budget: { nearPx: -24, farPx: 0 }, sourceEye: 'left', eye: 0.5, holes, edges: 'as-they-are' },
    );

  test('draws no near colour into the gap', () => {
    const filled = view('fill');
    expect(filled.revealedCount).toBeGreaterThan(500);
    for (let i = filled.revealed.data.indexOf(255); i >= 0; i = filled.revealed.data.indexOf(255, i + 1))
      expect(filled.picture.data[i * 4 + 1]).toBe(0);
  });

  test('continues an even slope: where the near edge is upright, the membrane of a linear function is that function', () => {
    const bar = (x: number): boolean => x >= 40 && x < 70;
    const slope = new Uint8Array(width * height * 4);
    const upright = new Uint16Array(width * height);
    for (let i = 0; i < width * height; i++) {
      slope.set(bar(i % width) ? [0, 255, 0, 255] : [40 + Math.floor(i / width) * 2, 0, 90, 255], i * 4);
      upright[i] = bar(i % width) ? 65535 : 0;
    }
    const filled = synthesizeView(
      { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data: slope },
      { width, height, data: upright },
      { budget: { nearPx: -24, farPx: 0 }, sourceEye: 'left', eye: 0.5, edges: 'as-they-are' },
    );
    let worst = 0;
    let n = 0;
    for (let i = filled.revealed.data.indexOf(255); i >= 0; i = filled.revealed.data.indexOf(255, i + 1), n++) {
      const y = Math.floor(i / width);
      // The loose ends at the picture's upper and lower border bend it within the sweeps' reach.
      if (y >= 20 && y < height - 20) worst = Math.max(worst, Math.abs(filled.picture.data[i * 4] - (40 + y * 2)));
    }
    expect(n).toBeGreaterThan(23 * height - 1);
    expect(worst).toBeLessThanOrEqual(1);
  });

  test('changes nothing but revealed pixels', () => {
    const a = view('row');
    const b = view('fill');
    for (let i = 0; i < width * height; i++) {
      if (!a.revealed.data[i])
        expect(b.picture.data.slice(i * 4, i * 4 + 4)).toEqual(a.picture.data.slice(i * 4, i * 4 + 4));
    }
  });

  test('evens out the streaks of the row fill', () => {
    // Rows of noise at the wall's edge: what the row fill draws across the gap in stripes.
    const noisy = data.slice();
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) if (!disc(x, y)) noisy[(y * width + x) * 4] = (y % 2) * 100 + 50;
    const run = (holes: 'fill' | 'row') =>
      synthesizeView(
        { bits: 8 as const, alpha: 'premultiplied' as const, width, height, data: noisy },
        { width, height, data: map },
        { budget: { nearPx: -24, farPx: 0 }, sourceEye: 'left', eye: 0.5, holes, edges: 'as-they-are' },
      );
    const rough = (v: ReturnType<typeof run>): number => {
      let sum = 0;
      let n = 0;
      for (let i = 0; i + width < width * height; i++)
        if (v.revealed.data[i] && v.revealed.data[i + width]) {
          sum += Math.abs(v.picture.data[i * 4] - v.picture.data[(i + width) * 4]);
          n++;
        }
      return sum / n;
    };
    expect(rough(run('row'))).toBeCloseTo(100, 0);
    expect(rough(run('fill'))).toBeLessThan(25);
  });
});
