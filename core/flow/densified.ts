import { emptyFlow, type FlowField } from './flowField';
import { PATCH, type Patches } from './patchSearch';
import type { Plane } from './plane';
import { sampledAt } from '../raster/sampledAt';

/** A field for every pixel: the mean of the patches over it, each by one over how far its colour is off there, at least 1. */
export function densified(from: Plane, to: Plane, { across, down, dx, dy }: Patches, stride: number): FlowField {
  const { width, height, data } = from;
  const out = emptyFlow(from);
  const weights = new Float32Array(width * height);
  for (let v = 0, k = 0; v < down; v++)
    for (let u = 0; u < across; u++, k++)
      for (let y = v * stride; y < Math.min(height, v * stride + PATCH); y++)
        for (let x = u * stride, i = y * width + x; x < Math.min(width, u * stride + PATCH); x++, i++) {
          const weight = 1 / Math.max(1, Math.abs(sampledAt(to, x + dx[k], y + dy[k]) - data[i]));
          out.dx[i] += weight * dx[k];
          out.dy[i] += weight * dy[k];
          weights[i] += weight;
        }
  // Patches end before the border where the size is no multiple of their distance: there the nearest covered px counts.
  const [lastX, lastY] = [
    Math.min(width, (across - 1) * stride + PATCH) - 1,
    Math.min(height, (down - 1) * stride + PATCH) - 1,
  ];
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const k = Math.min(y, lastY) * width + Math.min(x, lastX);
      if (i === k) {
        out.dx[i] /= weights[i];
        out.dy[i] /= weights[i];
      } else {
        out.dx[i] = out.dx[k];
        out.dy[i] = out.dy[k];
      }
    }
  return out;
}
