import { seeded } from '@/tests/support/chance';
import { cutsIn } from './cutsIn';

/** A scene of its own colours that drifts by `step` px a frame. */
function scene(seed: number, count: number, step: number): Float32Array[] {
  const random = seeded(seed);
  const [r, g, b] = [random() * 180, random() * 180, random() * 180];
  const wave = 0.05 + 0.1 * random();
  return Array.from({ length: count }, (_, n) => {
    const frame = new Float32Array(32 * 18 * 3);
    for (let i = 0; i < frame.length; i += 3) {
      const at = ((i / 3) % 32) + Math.floor(i / 96) + n * step;
      const v = 35 + 35 * Math.sin(at * wave) + 2 * random();
      frame.set([r + v, g + v, b + v], i);
    }
    return frame;
  });
}

test('cuts are found, also two that follow each other soon', () => {
  const film = [scene(1, 30, 0.2), scene(2, 4, 0.2), scene(3, 25, 0.5)].flat();
  expect(cutsIn(film)).toEqual([30, 34]);
});

test('a dissolve, a pan that is fast and a light that goes out by and by are no cuts', () => {
  const [a, b] = [scene(4, 24, 0.2), scene(5, 24, 0.2)];
  const dissolve = a.map((frame, n) => frame.map((v, i) => v + (n / 23) * (b[n][i] - v)));
  expect(cutsIn([...a, ...dissolve, ...b])).toEqual([]);
  expect(cutsIn(scene(6, 40, 6))).toEqual([]);
  expect(cutsIn(scene(7, 40, 0).map((frame, n) => frame.map((v) => v * (1 - n / 50))))).toEqual([]);
});
