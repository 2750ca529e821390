import { LEVEL, PATCH_REACH, type PatchLevel } from './patchLevel';

/**
 * Fills the hole of a small picture patch by patch, where lines run into it first. In place. For beginnings of texture
 * fill at its
 * smallest size: every source is tried for every patch.
 *
 * Source: Criminisi, Perez and Toyama, "Region filling and object removal by exemplar-based image inpainting", IEEE
 * TIP 13(9), 2004:
 * @param chance given: differences are weighed by chance, up to half as much again, for another proposal
 * priority = confidence times the strength of the line (the gradient turned by 90 degrees) across the border.
 */
export function exemplarFill({ width, height, picture, hole, from }: PatchLevel, chance?: () => number): void {
  const r = PATCH_REACH;
  const n = width * height;
  const open = hole.slice();
  const confidence = new Float32Array(n);
  const sources: number[] = [];
  for (let i = 0; i < n; i++) confidence[i] = open[i] ? 0 : 1;
  for (let y = r; y < height - r; y++) {
    for (let x = r; x < width - r; x++) {
      let whole = true;
      for (let v = y - r; v <= y + r && whole; v++)
        for (let u = x - r; u <= x + r; u++)
          if (hole[v * width + u] || !from[v * width + u]) {
            whole = false;
            break;
          }
      if (whole) sources.push(y * width + x);
    }
  }
  if (sources.length === 0) return;
  // Enough to choose from: every so many-th of a large picture.
  const every = Math.ceil(sources.length / 3000);
  const tried = every > 1 ? sources.filter((_, k) => k % every === 0) : sources;
  let left = 0;
  for (let i = 0; i < n; i++) left += open[i];
  const grey = (i: number): number => picture[i * 4] * 0.3 + picture[i * 4 + 1] * 0.59 + picture[i * 4 + 2] * 0.11;
  const known = (x: number, y: number): boolean => x >= 0 && y >= 0 && x < width && y < height && !open[y * width + x];
  while (left > 0) {
    let best = -1;
    let at = -1;
    let trust = 0;
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const i = y * width + x;
        if (!open[i] || !(known(x - 1, y) || known(x + 1, y) || known(x, y - 1) || known(x, y + 1))) continue;
        let sum = 0;
        let strongest = 0;
        let gx = 0;
        let gy = 0;
        let cells = 0;
        for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++) {
          for (let u = Math.max(0, x - r); u <= Math.min(width - 1, x + r); u++) {
            cells++;
            if (open[v * width + u]) continue;
            sum += confidence[v * width + u];
            if (!known(u - 1, v) || !known(u + 1, v) || !known(u, v - 1) || !known(u, v + 1)) continue;
            const dx = grey(v * width + u + 1) - grey(v * width + u - 1);
            const dy = grey((v + 1) * width + u) - grey((v - 1) * width + u);
            const s = dx * dx + dy * dy;
            if (s > strongest) {
              strongest = s;
              gx = dx;
              gy = dy;
            }
          }
        }
        // The border's normal from what is known to both sides.
        const nx = (known(x + 1, y) ? 1 : 0) - (known(x - 1, y) ? 1 : 0);
        const ny = (known(x, y + 1) ? 1 : 0) - (known(x, y - 1) ? 1 : 0);
        const length = Math.hypot(nx, ny) || 1;
        const c = sum / cells;
        const line = Math.abs(-gy * nx + gx * ny) / length / 255;
        const priority = c * (line + 0.001);
        if (priority > best) {
          best = priority;
          at = i;
          trust = c;
        }
      }
    }
    if (at < 0) return;
    left -= copyBest({ picture, open, confidence, width, height }, { at, trust }, tried, chance);
  }
}

/** What is being filled: RGBA, 1 where it is open, and how sure each pixel is. */
interface Filling {
  readonly picture: Uint8Array;
  readonly open: Uint8Array;
  readonly confidence: Float32Array;
  readonly width: number;
  readonly height: number;
}

/** Copies the source patch that fits best into the open pixels around `at`. Returns how many were filled. */
function copyBest(
  { picture, open, confidence, width, height }: Filling,
  { at, trust }: { readonly at: number; readonly trust: number },
  sources: readonly number[],
  chance: (() => number) | undefined,
): number {
  const r = PATCH_REACH;
  const x = at % width;
  const y = (at - x) / width;
  const offsets: number[] = [];
  const gaps: number[] = [];
  for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++)
    for (let u = Math.max(0, x - r); u <= Math.min(width - 1, x + r); u++)
      (open[v * width + u] ? gaps : offsets).push((v - y) * width + u - x);
  let least = Infinity;
  let best = sources[0];
  for (const s of sources) {
    const weight = chance ? 1 + 0.5 * chance() : 1;
    const dy = Math.floor(s / width) - y;
    let sum = (LEVEL / height ** 2) * dy * dy * (offsets.length / 49);
    for (const o of offsets) {
      const a = (at + o) * 4;
      const b = (s + o) * 4;
      sum +=
        (picture[a] - picture[b]) ** 2 +
        (picture[a + 1] - picture[b + 1]) ** 2 +
        (picture[a + 2] - picture[b + 2]) ** 2;
      if (sum * weight >= least) break;
    }
    if (sum * weight < least) {
      least = sum * weight;
      best = s;
    }
  }
  for (const o of gaps) {
    for (let c = 0; c < 3; c++) picture[(at + o) * 4 + c] = picture[(best + o) * 4 + c];
    open[at + o] = 0;
    confidence[at + o] = trust;
  }
  return gaps.length;
}
