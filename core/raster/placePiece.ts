import { CoreError } from '../error';
import { halvePicture } from './halve';
import { emptyPicture, isDeep, type Straight } from './picture';

/** Where and how a piece of picture lies on a canvas. */
export interface Placement {
  /** Place of the piece's middle, px of the canvas. */
  readonly x: number;
  readonly y: number;
  /** Canvas px per px of the piece. */
  readonly scale: number;
  /** Degrees, clockwise. */
  readonly turn: number;
  readonly flipAcross: boolean;
  readonly flipDown: boolean;
}

/** Colours matched to the surroundings: each channel times gain plus offset (0 to 1), mixed in by strength, 0 to 1. */
export interface ColourMatch {
  readonly strength: number;
  readonly gain: [number, number, number];
  readonly offset: [number, number, number];
}

/** The part of a canvas that is wanted: full-size (x, y) lies at ((x - left) * scale, (y - top) * scale). */
export interface CanvasPlace {
  readonly left: number;
  readonly top: number;
  readonly scale: number;
  readonly width: number;
  readonly height: number;
}

/**
 * A piece laid on an empty canvas: moved, scaled, turned, flipped, its colours matched. Linear between pixels,
 * premultiplied while
 * it is sampled, reduced by halves first where it becomes much smaller, so that nothing flickers. Unmoved it comes out unchanged.
 *
 * @param piece straight alpha
 * @returns straight alpha, as many bits as the piece
 * @throws CoreError `out-of-range` for a scale outside 0.01 to 100
 */
export function placePiece<P extends Straight>(
  piece: P,
  placement: Placement,
  canvas: CanvasPlace,
  match?: ColourMatch,
): P {
  const { scale } = placement;
  if (!(scale >= 0.01 && scale <= 100))
    throw new CoreError('out-of-range', `The scale is ${scale}; it must lie between 0.01 and 100.`);
  let from = piece;
  let per = scale * canvas.scale;
  while (per < 0.5 && from.width > 1 && from.height > 1) {
    from = halvePicture(from);
    per = (scale * canvas.scale * piece.width) / from.width;
  }
  const out = emptyPicture(piece, canvas.width, canvas.height);
  const most = isDeep(piece) ? 65535 : 255;
  const angle = (placement.turn * Math.PI) / 180;
  const cos = Math.cos(angle);
  const sin = Math.sin(angle);
  const fx = placement.flipAcross ? -1 : 1;
  const fy = placement.flipDown ? -1 : 1;
  // From a px of the canvas to the piece: turned back, scaled back, flipped back, about the middle.
  const kx = from.width / (piece.width * scale);
  const ky = from.height / (piece.height * scale);
  const cx = (placement.x - canvas.left) * canvas.scale;
  const cy = (placement.y - canvas.top) * canvas.scale;
  const { data: source, width: w, height: h } = from;
  const near = (v: number): number => (Math.abs(v - Math.round(v)) < 1e-6 ? Math.round(v) : v);
  for (let y = 0, o = 0; y < canvas.height; y++) {
    for (let x = 0; x < canvas.width; x++, o += 4) {
      const dx = (x + 0.5 - cx) / canvas.scale;
      const dy = (y + 0.5 - cy) / canvas.scale;
      const u = near(fx * (dx * cos + dy * sin) * kx + w / 2 - 0.5);
      const v = near(fy * (dy * cos - dx * sin) * ky + h / 2 - 0.5);
      if (u <= -1 || v <= -1 || u >= w || v >= h) continue;
      const x0 = Math.floor(u);
      const y0 = Math.floor(v);
      const ax = u - x0;
      const ay = v - y0;
      let a = 0;
      let r = 0;
      let g = 0;
      let b = 0;
      for (let k = 0; k < 4; k++) {
        const px = x0 + (k & 1);
        const py = y0 + (k >> 1);
        const weight = (k & 1 ? ax : 1 - ax) * (k >> 1 ? ay : 1 - ay);
        if (weight === 0 || px < 0 || py < 0 || px >= w || py >= h) continue;
        const i = (py * w + px) * 4;
        const wa = weight * source[i + 3];
        a += wa;
        r += wa * source[i];
        g += wa * source[i + 1];
        b += wa * source[i + 2];
      }
      if (a <= 0) continue;
      out.data[o] = Math.round(r / a);
      out.data[o + 1] = Math.round(g / a);
      out.data[o + 2] = Math.round(b / a);
      out.data[o + 3] = Math.round(a);
    }
  }
  if (match && match.strength > 0) {
    for (let c = 0; c < 3; c++) {
      const gain = 1 + (match.gain[c] - 1) * match.strength;
      const offset = match.offset[c] * match.strength * most;
      for (let i = c; i < out.data.length; i += 4)
        out.data[i] = Math.min(most, Math.max(0, Math.round(out.data[i] * gain + offset)));
    }
  }
  return out;
}
