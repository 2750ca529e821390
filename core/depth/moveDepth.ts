import type { DepthMap } from '../raster/picture';
import type { Placement } from '../raster/placePiece';

/**
 * A plate's depth map after its piece was placed anew: each value travels with the piece. Linear between pixels; beyond the old
 * canvas its outermost values go on.
 * @param canvas size of the new canvas, px @default that of the map
 */
export function moveDepth(
  { width, height, data }: DepthMap,
  was: Placement,
  now: Placement,
  canvas: { readonly width: number; readonly height: number } = { width, height },
): DepthMap {
  const out = new Uint16Array(canvas.width * canvas.height);
  const rad = Math.PI / 180;
  const cn = Math.cos(now.turn * rad);
  const sn = Math.sin(now.turn * rad);
  const cw = Math.cos(was.turn * rad);
  const sw = Math.sin(was.turn * rad);
  const fx = now.flipAcross === was.flipAcross ? 1 : -1;
  const fy = now.flipDown === was.flipDown ? 1 : -1;
  const k = was.scale / now.scale;
  for (let y = 0, i = 0; y < canvas.height; y++) {
    for (let x = 0; x < canvas.width; x++, i++) {
      const dx = x + 0.5 - now.x;
      const dy = y + 0.5 - now.y;
      // Turned back, flipped where one of the two was and the other is not, scaled, turned as it was.
      const px = fx * (dx * cn + dy * sn) * k;
      const py = fy * (dy * cn - dx * sn) * k;
      const u = Math.min(width - 1, Math.max(0, was.x + px * cw - py * sw - 0.5));
      const v = Math.min(height - 1, Math.max(0, was.y + px * sw + py * cw - 0.5));
      const x0 = Math.floor(u);
      const y0 = Math.floor(v);
      const x1 = Math.min(width - 1, x0 + 1);
      const y1 = Math.min(height - 1, y0 + 1);
      const ax = u - x0;
      const ay = v - y0;
      out[i] = Math.round(
        (data[y0 * width + x0] * (1 - ax) + data[y0 * width + x1] * ax) * (1 - ay) +
          (data[y1 * width + x0] * (1 - ax) + data[y1 * width + x1] * ax) * ay,
      );
    }
  }
  return { width: canvas.width, height: canvas.height, data: out };
}
