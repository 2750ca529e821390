import type { Size } from '../kind';

/** Where each pixel of a frame has gone to in another one, px of the frame: from (x, y) to (x + dx, y + dy). */
export interface FlowField extends Size {
  readonly dx: Float32Array;
  readonly dy: Float32Array;
}

export const emptyFlow = ({ width, height }: Size): FlowField => ({
  width,
  height,
  dx: new Float32Array(width * height),
  dy: new Float32Array(width * height),
});

/** A field at another size, between its places, its px scaled with it. */
export function resizedFlow(flow: FlowField, size: Size): FlowField {
  const out = emptyFlow(size);
  const [sx, sy] = [flow.width / size.width, flow.height / size.height];
  for (let y = 0, i = 0; y < size.height; y++) {
    const v = Math.min(flow.height - 1, Math.max(0, (y + 0.5) * sy - 0.5));
    const y0 = Math.floor(v);
    const below = y0 < flow.height - 1 ? flow.width : 0;
    for (let x = 0; x < size.width; x++, i++) {
      const u = Math.min(flow.width - 1, Math.max(0, (x + 0.5) * sx - 0.5));
      const x0 = Math.floor(u);
      const right = x0 < flow.width - 1 ? 1 : 0;
      const k = y0 * flow.width + x0;
      const [fx, fy] = [u - x0, v - y0];
      const mix = (d: Float32Array): number => {
        const a = d[k] + fx * (d[k + right] - d[k]);
        const b = d[k + below] + fx * (d[k + below + right] - d[k + below]);
        return a + fy * (b - a);
      };
      out.dx[i] = mix(flow.dx) / sx;
      out.dy[i] = mix(flow.dy) / sy;
    }
  }
  return out;
}
