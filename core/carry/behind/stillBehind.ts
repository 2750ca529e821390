import { invent } from './invent';
import { nothingKnown, type Borrowed } from './borrow';
import type { BehindFrames } from './frames';
import { knownBy } from './source';

/** So many frames are looked at, evenly, and so many values are held of them. */
const FRAMES = 120;
const ROOM = 60e6;

/**
 * One clean plate for a camera that stands still: what most of the frames show that show it at all, so that nothing of
 * what passes by stays; what none shows is invented once; over that what was painted. The same for every frame, bit by bit.
 * @returns what is known of every pixel that plates hide in any frame
 */
export async function stillBehind(frames: BehindFrames): Promise<Borrowed> {
  const first = await frames.frame(0);
  const { width, height } = first.picture;
  const union = new Uint8Array(width * height);
  for (let n = 0; n < frames.count; n++)
    (await frames.frame(n)).hole.data.forEach((v, i) => {
      if (v > 0) union[i] = 255;
    });
  const hidden: number[] = [];
  union.forEach((v, i) => {
    if (v > 0) hidden.push(i);
  });
  const many = Math.max(1, Math.min(frames.count, FRAMES, Math.floor(ROOM / Math.max(1, hidden.length))));
  const looked = Array.from({ length: many }, (_, k) => Math.floor(((k + 0.5) * frames.count) / many));
  const into = nothingKnown(first.picture);
  const seen = looked.map(() => new Uint8Array(4 * hidden.length));
  for (const [k, n] of looked.entries()) {
    const { picture, depth, hole } = await frames.frame(n);
    hidden.forEach((i, j) => {
      if (hole.data[i] > 0) return;
      for (let c = 0; c < 3; c++) seen[k][4 * j + c] = picture.data[4 * i + c];
      seen[k][4 * j + 3] = 255;
      if (into.known[i] === 0) into.depth[i] = depth.data[i] / 65535;
      into.known[i] = knownBy(1);
    });
  }
  hidden.forEach((i, j) => {
    for (let c = 0; c < 3; c++) {
      const values = seen.filter((look) => look[4 * j + 3] > 0).map((look) => look[4 * j + c]);
      if (values.length > 0) into.colours[3 * i + c] = values.sort((a, b) => a - b)[values.length >> 1];
    }
  });
  const want = union.map((v, i) => (v > 0 && into.known[i] === 0 ? 255 : 0));
  invent(into, { ...first, hole: { width, height, data: union } }, want);
  for (const n of frames.painted) {
    const { painted } = await frames.frame(n);
    for (const i of hidden) {
      if (!painted || painted.data[4 * i + 3] < 128) continue;
      for (let c = 0; c < 3; c++) into.colours[3 * i + c] = painted.data[4 * i + c];
      into.known[i] = knownBy(0);
    }
  }
  return into;
}
