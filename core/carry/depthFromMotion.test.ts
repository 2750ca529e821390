import { pictureOf, type Picture8 } from '../raster/picture';
import { depthFromMotion } from './depthFromMotion';

const [WIDE, HIGH] = [192, 128];
const COUNT = 7;
/** Px a frame that the nearest goes. */
const GOES = 3;

const wave = (x: number, y: number): number =>
  128 + 45 * Math.sin(x * 0.31 + 2 * Math.sin(y * 0.11)) * Math.cos(y * 0.27) + 25 * Math.sin(x * 0.13 + y * 0.17);
const inBoard = (x: number, y: number): boolean => x >= 70 && x < 130 && y >= 40 && y < 100;
const depthAt = (x: number, y: number): number => (inBoard(x, y) ? 0.9 : 0.1 + (0.4 * y) / HIGH);

/** A ground that leans and a board before it, past a camera that goes to the side. @param goes px a frame */
function frame(n: number, goes: number): Picture8 {
  const data = new Uint8Array(4 * WIDE * HIGH);
  const away = goes * (n - 3);
  for (let y = 0, i = 0; y < HIGH; y++)
    for (let x = 0; x < WIDE; x++, i += 4) {
      const board = inBoard(x - away * 0.9, y);
      const value = Math.round(board ? 255 - wave(1.3 * (x - away * 0.9), y + 40) : wave(x - away * depthAt(0, y), y));
      data.set([value, board ? value : value * 0.8, value * 0.7, 255], i);
    }
  return pictureOf({ width: WIDE, height: HIGH }, data, 'straight');
}

const framesOf = (goes: number) => {
  const all = Array.from({ length: COUNT }, (_, n) => frame(n, goes));
  return { count: COUNT, frame: (n: number) => Promise.resolve(all[n]) };
};

test('what goes farther past a moving camera is nearer', async () => {
  const { data } = await depthFromMotion(framesOf(GOES), 3);
  let [sum, truth, both, own, exact] = [0, 0, 0, 0, 0];
  const n = data.length;
  data.forEach((v, i) => {
    sum += v / n;
    truth += depthAt(i % WIDE, Math.floor(i / WIDE)) / n;
  });
  data.forEach((v, i) => {
    const [a, b] = [v - sum, depthAt(i % WIDE, Math.floor(i / WIDE)) - truth];
    both += a * b;
    own += a * a;
    exact += b * b;
  });
  // The correlation that was measured on footage with exact depth is .81 to .86.
  expect(both / Math.sqrt(own * exact)).toBeGreaterThan(0.86);
});

test('a camera that stands still tells nothing, and it is said', async () => {
  await expect(depthFromMotion(framesOf(0), 3)).rejects.toMatchObject({ code: 'camera-still' });
});
