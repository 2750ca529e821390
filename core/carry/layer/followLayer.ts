import { inverseSearch } from '../../flow/inverseSearch';
import type { Plane } from '../../flow/plane';
import { clipRect } from '../../raster/geometry';
import type { Frame } from '../frame';
import { alignLayer } from './alignLayer';
import { AT_KEY, goesOn, type LayerPose } from './layerPose';
import type { LaidLayer } from './laidLayer';
import type { Template } from './template';

/** Of which less is seen, its size and turn are left as they were. */
const WHOLE = 0.85;

/** A cut-out's way through the frames on one side of its key; each frame begins with what the ones before it say. */
export class FollowedLayer {
  private before: LayerPose = AT_KEY;
  private now: LayerPose = AT_KEY;

  constructor(private readonly template: Template) {}

  /**
   * The next frame. What goes on as it went, and what flow says of it, are both tried.
   * @param last the frame before it, and what was seen of the layer there
   */
  next(frame: Frame, last: Frame, seen: LaidLayer | undefined): LayerPose {
    const goes = goesOn(this.before, this.now);
    const begins = [goes];
    const flow = seen && flowOf(last.half, frame.half, seen);
    if (flow) begins.push({ ...this.now, dx: this.now.dx + flow[0], dy: this.now.dy + flow[1] });
    const whole = !seen || seen.agrees >= WHOLE;
    const tries = begins.map((begin) => alignLayer(this.template, frame.picture, begin, whole));
    return tries.reduce((a, b) => (b.off < a.off ? b : a)).pose;
  }

  /** Takes a pose as where it is now. */
  take(pose: LayerPose): void {
    [this.before, this.now] = [this.now, pose];
  }

  /** Nothing was found: it is thought to go on as it went. */
  lose(): void {
    this.take(goesOn(this.before, this.now));
  }
}

/** Flow beyond the layer's own part is looked at so far, px of half the size. */
const AROUND = 24;

/** By how much most of what is seen of a layer moves to the next frame, px: the median of the flow there. */
function flowOf(last: Plane, next: Plane, { rect, seen }: LaidLayer): readonly [number, number] | undefined {
  const part = clipRect(
    {
      left: rect.left / 2 - AROUND,
      right: rect.right / 2 + AROUND,
      top: rect.top / 2 - AROUND,
      bottom: rect.bottom / 2 + AROUND,
    },
    last.width,
    last.height,
  );
  if (!part) return undefined;
  const flow = inverseSearch(partOf(last, part), partOf(next, part));
  const [dx, dy]: [number[], number[]] = [[], []];
  const width = rect.right - rect.left;
  for (let y = part.top; y < part.bottom; y++)
    for (let x = part.left; x < part.right; x++) {
      const [u, v] = [2 * x - rect.left, 2 * y - rect.top];
      if (u < 0 || v < 0 || u >= width || v >= rect.bottom - rect.top || seen[v * width + u] < 0.5) continue;
      const i = (y - part.top) * flow.width + x - part.left;
      dx.push(2 * flow.dx[i]);
      dy.push(2 * flow.dy[i]);
    }
  if (dx.length === 0) return undefined;
  return [middle(dx), middle(dy)];
}

const middle = (values: number[]): number => Float64Array.from(values).sort()[values.length >> 1];

function partOf({ width, data }: Plane, { left, top, right, bottom }: NonNullable<ReturnType<typeof clipRect>>): Plane {
  const size = { width: right - left, height: bottom - top };
  const out = new Float32Array(size.width * size.height);
  for (let y = 0; y < size.height; y++)
    out.set(data.subarray((top + y) * width + left, (top + y) * width + right), y * size.width);
  return { ...size, data: out };
}
