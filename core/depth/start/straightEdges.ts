import { blurPlane } from '../../raster/blurPlane';
import type { Size } from '../../kind';

/** A straight edge of a picture, px. */
export interface StraightEdge {
  readonly x1: number;
  readonly y1: number;
  readonly x2: number;
  readonly y2: number;
  readonly length: number;
}

/** Neighbours belong to the same edge where their slopes point within so much of each other, radians. */
const ALIKE = Math.PI / 8;
/** The weakest slope that counts, grey steps a px. */
const WEAKEST = 5;
/** An edge is so many times longer than it is wide, at least. */
const SLENDER = 8;

/**
 * Straight edges of a grey plane: px whose slopes point the same way and that hang together, where they lie along a
 * line.
 * Source of the idea: Grompone von Gioi, Jakubowicz, Morel and Randall, "LSD: a line segment detector", IPOL 2, 2012.
 * @param least shortest edge, px
 */
export function straightEdges(grey: Float32Array, { width, height }: Size, least: number): StraightEdge[] {
  const soft = blurPlane(grey, width, height, 0.8);
  const angle = new Float32Array(grey.length);
  const slope = new Float32Array(grey.length);
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x;
      const gx = (soft[i + 1] - soft[i - 1]) / 2;
      const gy = (soft[i + width] - soft[i - width]) / 2;
      slope[i] = Math.hypot(gx, gy);
      angle[i] = Math.atan2(gy, gx);
    }
  // The steepest begin: an edge's middle has the surest direction.
  const order = Array.from(slope.keys())
    .filter((i) => slope[i] >= WEAKEST)
    .sort((a, b) => slope[b] - slope[a]);
  const taken = new Uint8Array(grey.length);
  const edges: StraightEdge[] = [];
  for (const first of order) {
    if (taken[first]) continue;
    const edge = lineThrough(together(first, { angle, slope, taken, width }), slope, width);
    if (edge && edge.length >= least) edges.push(edge);
  }
  return edges;
}

interface Slopes {
  readonly angle: Float32Array;
  readonly slope: Float32Array;
  readonly taken: Uint8Array;
  readonly width: number;
}

/**
 * What hangs together with a px and points the same way; it is taken. The border has no slope, so that it is never
 * left.
 */
function together(first: number, { angle, slope, taken, width }: Slopes): number[] {
  const pixels = [first];
  taken[first] = 1;
  let [sx, sy] = [Math.cos(angle[first]), Math.sin(angle[first])];
  for (let n = 0; n < pixels.length; n++)
    for (const step of [1, -1, width, -width, width + 1, width - 1, -width + 1, -width - 1]) {
      const i = pixels[n] + step;
      if (taken[i] || !(slope[i] >= WEAKEST)) continue;
      const off = Math.abs(
        Math.atan2(
          Math.sin(angle[i]) * sx - Math.cos(angle[i]) * sy,
          Math.cos(angle[i]) * sx + Math.sin(angle[i]) * sy,
        ),
      );
      if (off > ALIKE) continue;
      taken[i] = 1;
      pixels.push(i);
      sx += Math.cos(angle[i]);
      sy += Math.sin(angle[i]);
    }
  return pixels;
}

/** The line along which px lie (their main axis, steep ones counting more); undefined where they are no line. */
function lineThrough(pixels: readonly number[], slope: Float32Array, width: number): StraightEdge | undefined {
  if (pixels.length < 8) return undefined;
  let [sum, mx, my] = [0, 0, 0];
  for (const i of pixels) {
    sum += slope[i];
    mx += slope[i] * (i % width);
    my += slope[i] * Math.floor(i / width);
  }
  mx /= sum;
  my /= sum;
  let [xx, xy, yy] = [0, 0, 0];
  for (const i of pixels) {
    const [dx, dy] = [(i % width) - mx, Math.floor(i / width) - my];
    xx += slope[i] * dx * dx;
    xy += slope[i] * dx * dy;
    yy += slope[i] * dy * dy;
  }
  const turn = Math.atan2(2 * xy, xx - yy) / 2;
  const [ux, uy] = [Math.cos(turn), Math.sin(turn)];
  let [from, to, aside] = [Infinity, -Infinity, 0];
  for (const i of pixels) {
    const [dx, dy] = [(i % width) - mx, Math.floor(i / width) - my];
    const along = dx * ux + dy * uy;
    from = Math.min(from, along);
    to = Math.max(to, along);
    aside = Math.max(aside, Math.abs(dy * ux - dx * uy));
  }
  const length = to - from;
  if (length < SLENDER * Math.min(2 * aside, aside + 1)) return undefined;
  return { x1: mx + from * ux, y1: my + from * uy, x2: mx + to * ux, y2: my + to * uy, length };
}
