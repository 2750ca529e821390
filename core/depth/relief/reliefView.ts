import type { Size } from '../../kind';

/** From where a map is seen as a surface. */
export interface ReliefPose {
  /** The surface turned around its upright middle, degrees; above 0 its left side comes nearer. */
  readonly turnedDeg: number;
  /** The surface tipped, degrees; above 0 it is seen from above. */
  readonly tippedDeg: number;
  /** How thick it is: 1 is as thick as .6 of its longer side. */
  readonly stretch: number;
}

/** A place seen: px of a picture of the map's size, and how near it is (larger is nearer). */
export interface ReliefPlace {
  readonly x: number;
  readonly y: number;
  readonly z: number;
}

/** Thickness of a stretch of 1, of the longer side. */
const THICK = 0.6;
/** The eye stands so far away, of the longer side. */
const EYE = 2.5;
/** The box fills so much of the picture. */
const FILLS = 0.94;

/** A surface seen in perspective, its box as large as the picture lets it be. */
export class ReliefView {
  private readonly cos: readonly [number, number];
  private readonly sin: readonly [number, number];
  private readonly long: number;
  private readonly thick: number;
  private fit = { scale: 1, x: 0, y: 0 };

  constructor(
    readonly size: Size,
    { turnedDeg, tippedDeg, stretch }: ReliefPose,
  ) {
    const [a, b] = [(turnedDeg * Math.PI) / 180, (tippedDeg * Math.PI) / 180];
    this.cos = [Math.cos(a), Math.cos(b)];
    this.sin = [Math.sin(a), Math.sin(b)];
    this.long = Math.max(size.width, size.height);
    this.thick = stretch * THICK * this.long;
    const seen = this.corners();
    const xs = seen.map(({ x }) => x);
    const ys = seen.map(({ y }) => y);
    const [left, right] = [Math.min(...xs), Math.max(...xs)];
    const [top, bottom] = [Math.min(...ys), Math.max(...ys)];
    const scale = FILLS * Math.min(size.width / (right - left), size.height / (bottom - top));
    this.fit = {
      scale,
      x: size.width / 2 - (scale * (left + right)) / 2,
      y: size.height / 2 - (scale * (top + bottom)) / 2,
    };
  }

  /** @param x, y px of the map @param depth 0 farthest to 1 nearest */
  place(x: number, y: number, depth: number): ReliefPlace {
    const [px, py, z] = this.placeInto(x, y, depth, new Float64Array(3));
    return { x: px, y: py, z };
  }

  /** The same for whoever asks for many. @param out x, y and z; written and given back */
  placeInto(x: number, y: number, depth: number, out: Float64Array): Float64Array {
    const { cos, sin, long, fit } = this;
    const { width, height } = this.size;
    const u = x - width / 2;
    const v = y - height / 2;
    const w = (depth - 0.5) * this.thick;
    const turned = u * cos[0] + w * sin[0];
    const near = w * cos[0] - u * sin[0];
    const tipped = v * cos[1] + near * sin[1];
    const z = near * cos[1] - v * sin[1];
    const share = (EYE * long) / (EYE * long - z);
    out[0] = fit.x + fit.scale * turned * share;
    out[1] = fit.y + fit.scale * tipped * share;
    out[2] = z;
    return out;
  }

  /** The corners of its box: the far four from the left upper one clockwise, then the near four. */
  corners(): ReliefPlace[] {
    const { width, height } = this.size;
    return [0, 1].flatMap((depth) =>
      [
        [0, 0],
        [width, 0],
        [width, height],
        [0, height],
      ].map(([x, y]) => this.place(x, y, depth)),
    );
  }
}
