import { projectPoint, type Projection } from '../../camera/projection';
import { inverseDistance } from '../../camera/sourceCamera';
import type { DepthMap, Premultiplied } from '../../raster/picture';
import type { SceneAt, Scene } from '../../scene/sceneAt';
import { drawnOf, type Surface } from '../../scene/sceneOf';
import type { ShotRasters } from '../../shot/rasters';
import { tearOf } from '../tearOf';
import type { Found } from './frameFacts';

/** Steps of this share of a tear's and more are looked at. */
const LEAST = 0.25;
/** At most so many of a surface: evenly taken from all. */
const MOST = 12_000;

/** Neighbouring pixels of one surface across a step of depth that does not tear. */
interface Steps {
  /** Its place among the drawn plates, 1 the farthest; 0 the back plate. */
  readonly plate: number;
  readonly span: Surface;
  /** x, y of the first px and of the second, px of the source, and their depths on the surface, six numbers a step. */
  readonly pairs: Float32Array;
}

/** Finds where surfaces are drawn out by a camera although they do not tear. */
export class Stretched {
  private known: { readonly tears: string; readonly steps: readonly Steps[] } | undefined;

  /** @param scale raster px a px of the source */
  constructor(
    private readonly rasters: ShotRasters<Premultiplied>,
    private readonly scale: number,
  ) {}

  /** The longest, as one eye sees it; undefined where nothing is drawn out. */
  see(scene: SceneAt, seenBy: Projection): (Found & { readonly plate: number }) | undefined {
    let most: (Found & { readonly plate: number }) | undefined;
    for (const { plate, span, pairs } of this.stepsOf(scene)) {
      const w = (v: number): number => inverseDistance(span.far + (span.near - span.far) * v, scene.camera);
      for (let n = 0; n < pairs.length; n += 6) {
        const a = projectPoint(seenBy, { x: pairs[n], y: pairs[n + 1] }, w(pairs[n + 4]));
        const b = projectPoint(seenBy, { x: pairs[n + 2], y: pairs[n + 3] }, w(pairs[n + 5]));
        if (!a || !b) continue;
        const px = Math.hypot(a.x - b.x, a.y - b.y);
        // Turned round, it is folded behind what is nearer.
        const along = (b.x - a.x) * (pairs[n + 2] - pairs[n]) + (b.y - a.y) * (pairs[n + 3] - pairs[n + 1]);
        if (along <= 0 || px <= (most?.px ?? 1 / this.scale)) continue;
        const at = {
          left: Math.min(a.x, b.x),
          top: Math.min(a.y, b.y),
          right: Math.max(a.x, b.x) + 1,
          bottom: Math.max(a.y, b.y) + 1,
        };
        most = { px, at, plate };
      }
    }
    return most;
  }

  private stepsOf(scene: Scene): readonly Steps[] {
    const { rasters, scale } = this;
    const surfaces = [
      {
        plate: 0,
        span: scene.back,
        depth: rasters.depth,
        top: 0,
        alpha: undefined as Premultiplied['data'] | undefined,
      },
      ...drawnOf(scene).flatMap((span, n) => {
        const held = rasters.plates.find(({ id }) => id === span.id);
        return held ? [{ plate: n + 1, span, depth: held.depth, top: held.top, alpha: held.picture.data }] : [];
      }),
    ].map((surface) => ({ ...surface, tear: tearOf(scene, surface.span) }));
    const tears = surfaces.map(({ plate, tear }) => `${plate} ${tear}`).join();
    if (this.known?.tears !== tears) {
      const steps = surfaces.map(({ plate, span, depth, top, alpha, tear }) => ({
        plate,
        span,
        pairs: pairsOf(depth, alpha, tear, { top, scale }),
      }));
      this.known = { tears, steps };
    }
    // The steps stay, the depths that they are stretched over may have moved.
    return this.known.steps.map((step, n) => ({ ...step, span: surfaces[n].span }));
  }
}

function pairsOf(
  { width, height, data }: DepthMap,
  alpha: Premultiplied['data'] | undefined,
  tear: number,
  { top, scale }: { readonly top: number; readonly scale: number },
): Float32Array {
  const found: number[] = [];
  const least = tear * LEAST;
  const whole = (i: number): boolean => alpha === undefined || alpha[i * 4 + 3] > 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (!whole(i)) continue;
      if (x + 1 < width) add(i, i + 1);
      if (y + 1 < height) add(i, i + width);
    }
  const each = Math.max(1, Math.ceil(found.length / 2 / MOST));
  const out = new Float32Array(Math.ceil(found.length / 2 / each) * 6);
  const place = (v: number): number => (v + 0.5) / scale - 0.5;
  for (let n = 0, o = 0; n < found.length; n += 2 * each, o += 6) {
    const [i, j] = [found[n], found[n + 1]];
    out[o] = place(i % width);
    out[o + 1] = place(Math.floor(i / width) + top);
    out[o + 2] = place(j % width);
    out[o + 3] = place(Math.floor(j / width) + top);
    out[o + 4] = data[i] / 65535;
    out[o + 5] = data[j] / 65535;
  }
  return out;

  function add(i: number, j: number): void {
    const step = Math.abs(data[i] - data[j]);
    if (step > least && step <= tear && whole(j)) found.push(i, j);
  }
}
