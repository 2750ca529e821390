#!/usr/bin/env node
// Makes public/cork.webp, the cork of the board: seeded, so that it comes out the same every time. Cells of 15 square px with
// slightly different tones, darker joints, dark specks and a fine grain. Run by hand when the cork shall change.
import sharp from 'sharp';

const width = 240;
const height = 1200;
let seed = 20261124;
const chance = () => {
  seed = (seed * 1664525 + 1013904223) >>> 0;
  return seed / 4294967296;
};
const cells = Array.from({ length: Math.round((width * height) / 15) }, () => ({
  x: chance() * width,
  y: chance() * height,
  tone: (chance() - 0.5) * 10,
  dark: chance() < 0.04 ? 0.87 : 1,
}));
const grid = new Map();
for (const c of cells) {
  const k = `${Math.floor(c.x / 6)},${Math.floor(c.y / 6)}`;
  grid.set(k, [...(grid.get(k) ?? []), c]);
}
const data = Buffer.alloc(width * height * 3);
for (let y = 0; y < height; y++) {
  for (let x = 0; x < width; x++) {
    let first = { d: 1e9, c: cells[0] };
    let second = 1e9;
    for (let gy = Math.floor(y / 6) - 2; gy <= Math.floor(y / 6) + 2; gy++) {
      for (let gx = Math.floor(x / 6) - 2; gx <= Math.floor(x / 6) + 2; gx++) {
        for (const c of grid.get(`${gx},${gy}`) ?? []) {
          const d = (c.x - x) ** 2 + (c.y - y) ** 2;
          if (d < first.d) {
            second = first.d;
            first = { d, c };
          } else if (d < second) second = d;
        }
      }
    }
    const joint = Math.sqrt(second) - Math.sqrt(first.d) < 0.7 ? -9 : 0;
    const grain = (chance() - 0.5) * 7;
    [0xd4, 0xad, 0x7a].forEach((base, n) => {
      data[(y * width + x) * 3 + n] = Math.max(
        0,
        Math.min(255, Math.round((base + first.c.tone + joint + grain) * first.c.dark)),
      );
    });
  }
}
await sharp(data, { raw: { width, height, channels: 3 } })
  .webp({ quality: 60 })
  .toFile(new URL('../public/cork.webp', import.meta.url).pathname);
