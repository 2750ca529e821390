import type { Ground } from './ground';
import type { Offset } from './offsets';

/** An offset is refined by known places so near to where it was found, each second of them, px. */
const AROUND = 40;
const SIGMA = 32;
/** Offsets lie so far apart, px. */
const APART = 2;

/**
 * Offsets at full size, the best first: of those that are the same at the coarse one, the one that fits best where it was found.
 * @param factor how many times coarser they were found
 * @param most so many are enough
 */
export function refined(ground: Ground, offsets: readonly Offset[], factor: number, most: number): Offset[] {
  const kept: Offset[] = [];
  for (const rough of offsets) {
    if (kept.length === most) break;
    const offset = refine(ground, rough, factor);
    if (kept.every((o) => Math.hypot(o.dx - offset.dx, o.dy - offset.dy) >= APART)) kept.push(offset);
  }
  return kept;
}

function refine({ width, height, colours, known, from }: Ground, offset: Offset, factor: number): Offset {
  const mx = Math.floor((offset.x + 0.5) * factor);
  const my = Math.floor((offset.y + 0.5) * factor);
  const places: number[] = [];
  const weights: number[] = [];
  for (let y = Math.max(0, my - AROUND); y < Math.min(height, my + AROUND); y += 2)
    for (let x = Math.max(0, mx - AROUND); x < Math.min(width, mx + AROUND); x += 2) {
      if (!known[y * width + x]) continue;
      places.push(x, y);
      weights.push(Math.exp(-((x - mx) ** 2 + (y - my) ** 2) / (2 * SIGMA * SIGMA)));
    }
  let best = { ...offset, dx: offset.dx * factor, dy: offset.dy * factor };
  let least = Infinity;
  for (let dy = (offset.dy - 1) * factor + 1; dy < (offset.dy + 1) * factor; dy++)
    for (let dx = (offset.dx - 1) * factor + 1; dx < (offset.dx + 1) * factor; dx++) {
      let sum = 0;
      let weight = 0;
      for (let n = 0; n < weights.length; n++) {
        const x = places[2 * n];
        const y = places[2 * n + 1];
        const u = x + dx;
        const v = y + dy;
        if (u < 0 || v < 0 || u >= width || v >= height) continue;
        const j = v * width + u;
        if (!from[j]) continue;
        const i = y * width + x;
        const r = colours[i * 3] - colours[j * 3];
        const g = colours[i * 3 + 1] - colours[j * 3 + 1];
        const b = colours[i * 3 + 2] - colours[j * 3 + 2];
        sum += weights[n] * (r * r + g * g + b * b);
        weight += weights[n];
      }
      if (weight > 5 && sum / weight < least) {
        least = sum / weight;
        best = { ...offset, dx, dy };
      }
    }
  return best;
}
