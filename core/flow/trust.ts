import type { FlowField } from './flowField';
import { sampledAt } from '../raster/sampledAt';

/**
 * How sure a field is, 0 to 1 a pixel, by where the field of the other way leads back to: exp(-e² / 2s), e px off, s
 * = 0.25 + 0.01 (|there|² +
 * |back|²).
 */
export function trustOf(there: FlowField, back: FlowField): Float32Array {
  const { width, height } = there;
  const [bx, by] = [
    { width, height, data: back.dx },
    { width, height, data: back.dy },
  ];
  const out = new Float32Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const [u, v] = [there.dx[i], there.dy[i]];
      const [p, q] = [sampledAt(bx, x + u, y + v), sampledAt(by, x + u, y + v)];
      const off = (u + p) ** 2 + (v + q) ** 2;
      out[i] = Math.exp(-off / (2 * (0.25 + 0.01 * (u * u + v * v + p * p + q * q))));
    }
  return out;
}
