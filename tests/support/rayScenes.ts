import { pictureOf, type Picture8 } from '@/core/raster/picture';
import { seeded } from './chance';

// Four small scenes with exact depth, ray traced: balls, boxes, a ground, a backdrop; sun and sky light, no shadows.

type V = readonly [number, number, number];
const add = (a: V, b: V, s = 1): V => [a[0] + s * b[0], a[1] + s * b[1], a[2] + s * b[2]];
const dot = (a: V, b: V): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const SUN: V = [-0.48, 0.64, -0.6];

interface Hit {
  readonly t: number;
  readonly normal: V;
}
interface Thing {
  readonly colour: V;
  /** How much its colour changes from place to place, over so many metres. */
  readonly grain?: readonly [share: number, size: number];
  /** Squares of its ground. */
  readonly squares?: number;
  hit(eye: V, ray: V): Hit | undefined;
}

const ball = (middle: V, radius: number, colour: V, grain?: Thing['grain']): Thing => ({
  colour,
  grain,
  hit: (eye, ray) => {
    const to = add(eye, middle, -1);
    const b = dot(to, ray);
    const root = b * b - dot(ray, ray) * (dot(to, to) - radius * radius);
    if (root < 0) return undefined;
    const t = (-b - Math.sqrt(root)) / dot(ray, ray);
    const at = add(add(eye, ray, t), middle, -1);
    return { t, normal: [at[0] / radius, at[1] / radius, at[2] / radius] };
  },
});
const plane = (axis: 0 | 1 | 2, at: number, colour: V, more: Partial<Thing> = {}): Thing => ({
  colour,
  ...more,
  hit: (eye, ray) => {
    const t = (at - eye[axis]) / ray[axis];
    const side = ray[axis] > 0 ? -1 : 1;
    return { t, normal: [0, 1, 2].map((n) => (n === axis ? side : 0)) as unknown as V };
  },
});
const box = (low: V, high: V, colour: V, grain?: Thing['grain']): Thing => ({
  colour,
  grain,
  hit: (eye, ray) => {
    let [near, far, axis] = [-Infinity, Infinity, 0];
    for (let n = 0; n < 3; n++) {
      const a = (low[n] - eye[n]) / ray[n];
      const b = (high[n] - eye[n]) / ray[n];
      if (Math.min(a, b) > near) [near, axis] = [Math.min(a, b), n];
      far = Math.min(far, Math.max(a, b));
    }
    if (near > far) return undefined;
    return { t: near, normal: [0, 1, 2].map((n) => (n === axis ? -Math.sign(ray[n]) : 0)) as unknown as V };
  },
});

interface Scene {
  readonly eye: V;
  /** Where the horizon lies, share of the height from above. */
  readonly horizon: number;
  readonly things: readonly Thing[];
  readonly sky: V;
  /** Light lost a metre, for haze. */
  readonly haze: number;
}

const GREY: V = [150, 148, 142];
const SCENES: Record<'room' | 'street' | 'landscape' | 'portrait', Scene> = {
  room: {
    eye: [0, 1.5, 0],
    horizon: 0.4,
    haze: 0,
    sky: GREY,
    things: [
      plane(1, 0, [150, 110, 75], { squares: 0.5 }),
      plane(1, 2.7, [225, 222, 215]),
      plane(0, -2.5, [200, 190, 160]),
      plane(0, 2.5, [190, 185, 165]),
      plane(2, 6, [175, 185, 190], { grain: [0.1, 0.6] }),
      box([-0.9, 0, 3], [0.4, 0.75, 3.9], [120, 60, 40], [0.2, 0.1]),
      ball([0.0, 0.95, 3.3], 0.2, [190, 50, 40]),
      box([1.4, 0, 4.2], [2.3, 1.7, 5.2], [60, 80, 110], [0.2, 0.3]),
      ball([-1.6, 0.3, 2.4], 0.3, [70, 120, 60], [0.4, 0.1]),
    ],
  },
  street: {
    eye: [0, 1.7, 0],
    horizon: 0.45,
    haze: 0.012,
    sky: [170, 195, 225],
    things: [
      plane(1, 0, [110, 108, 105], { grain: [0.2, 0.2] }),
      ...Array.from({ length: 6 }, (_, n) => [
        box(
          [-9, 0, 4 + 9 * n],
          [-4.5, 6 + ((n * 7) % 4), 12 + 9 * n],
          [165 - 20 * (n % 3), 110 + 15 * (n % 2), 90],
          [0.3, 0.8],
        ),
        box(
          [4.5, 0, 2 + 10 * n],
          [9, 7 + ((n * 5) % 3), 11 + 10 * n],
          [150, 140 - 20 * (n % 2), 110 + 10 * (n % 3)],
          [0.3, 0.8],
        ),
      ]).flat(),
      box([-2.6, 0, 9], [-0.9, 1.4, 13], [40, 60, 130]),
      box([1.5, 0, 17], [3.2, 1.5, 21], [150, 30, 30]),
    ],
  },
  landscape: {
    eye: [0, 3, 0],
    horizon: 0.35,
    haze: 0.006,
    sky: [150, 185, 230],
    things: [
      plane(1, 0, [95, 125, 60], { grain: [0.35, 1.2] }),
      ball([-90, -60, 260], 95, [80, 105, 75], [0.3, 8]),
      ball([120, -110, 380], 160, [85, 105, 90], [0.3, 10]),
      ...Array.from({ length: 9 }, (_, n) =>
        ball([((n * 37) % 29) - 14, 1.6, 9 + n * 6.5], 1.7 + (n % 3) * 0.5, [50 + 6 * (n % 4), 85, 35], [0.5, 0.4]),
      ),
    ],
  },
  portrait: {
    eye: [0, 1.55, 0],
    horizon: 0.45,
    haze: 0,
    sky: GREY,
    things: [
      plane(2, 3.4, [95, 105, 115], { grain: [0.15, 1.5] }),
      plane(1, 0, [90, 80, 70]),
      ball([0, 1.55, 1.3], 0.17, [215, 165, 140], [0.1, 0.05]),
      ball([0, 1.65, 1.34], 0.17, [60, 40, 30], [0.3, 0.03]),
      ball([0, 0.95, 1.45], 0.42, [45, 60, 110], [0.2, 0.08]),
      ball([-0.36, 0.98, 1.45], 0.17, [45, 60, 110], [0.2, 0.08]),
      ball([0.36, 0.98, 1.45], 0.17, [45, 60, 110], [0.2, 0.08]),
    ],
  },
};
export const RAY_SCENES = Object.keys(SCENES) as (keyof typeof SCENES)[];

const WIDTH = 480;
const HEIGHT = 320;

/** A value that changes smoothly by place, the same for the same place. */
function noise(at: V, size: number): number {
  const hash = (x: number, y: number, z: number): number => {
    const h = Math.imul(Math.imul(x, 374761393) ^ Math.imul(y, 668265263) ^ Math.imul(z, 2147483647 - 61), 1274126177);
    return ((h ^ (h >>> 15)) >>> 0) / 4294967296;
  };
  const p = at.map((v) => v / size);
  const whole = p.map(Math.floor);
  const f = p.map((v, n) => v - whole[n]);
  let sum = 0;
  for (let k = 0; k < 8; k++) {
    const [a, b, c] = [k & 1, (k >> 1) & 1, k >> 2];
    sum +=
      (a ? f[0] : 1 - f[0]) *
      (b ? f[1] : 1 - f[1]) *
      (c ? f[2] : 1 - f[2]) *
      hash(whole[0] + a, whole[1] + b, whole[2] + c);
  }
  return sum;
}

/** A scene as it is seen, and how far away each place is, in metres; the sky is infinitely far. */
export function rayTraced(name: keyof typeof SCENES): { readonly picture: Picture8; readonly distance: Float64Array } {
  const { eye, horizon, things, sky, haze } = SCENES[name];
  const random = seeded(17);
  const data = new Uint8Array(WIDTH * HEIGHT * 4);
  const distance = new Float64Array(WIDTH * HEIGHT);
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i++) {
      const ray: V = [(x + 0.5 - WIDTH / 2) / 400, (HEIGHT * horizon - y - 0.5) / 400, 1];
      let [best, what]: [Hit, Thing | undefined] = [{ t: Infinity, normal: [0, 1, 0] }, undefined];
      for (const thing of things) {
        const hit = thing.hit(eye, ray);
        if (hit && hit.t > 1e-3 && hit.t < best.t) [best, what] = [hit, thing];
      }
      distance[i] = best.t;
      const at = add(eye, ray, Math.min(best.t, 1e4));
      let light = 0.45 + 0.55 * Math.max(0, dot(best.normal, SUN));
      if (what?.grain) light *= 1 + what.grain[0] * (2 * noise(at, what.grain[1]) - 1);
      if (what?.squares && (Math.floor(at[0] / what.squares) + Math.floor(at[2] / what.squares)) % 2) light *= 0.75;
      const clear = Math.exp(-haze * best.t);
      for (let c = 0; c < 3; c++)
        data[i * 4 + c] = Math.min(
          255,
          Math.max(0, (what ? what.colour[c] * light * clear : 0) + (what ? 1 - clear : 1) * sky[c] + 4 * random() - 2),
        );
      data[i * 4 + 3] = 255;
    }
  return { picture: pictureOf({ width: WIDTH, height: HEIGHT }, data, 'straight'), distance };
}
