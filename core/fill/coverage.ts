import type { ShotRasters } from '../shot/rasters';
import type { Picture, Premultiplied } from '../raster/picture';
import { drawnOf, type SceneFrame, type Span } from '../scene/sceneOf';
import { sourceEyePosition, spanBudget } from '../stereo/parallax';

/** How far views run out of picture at the frame's edges, raster px: the smallest overscan that cures it. */
export interface Coverage {
  readonly left: number;
  readonly right: number;
  readonly worst: { readonly eye: number; readonly row: number };
}

/**
 * Where the picture's border shows: columns at a view's left and right that no plate reaches. Added picture moves with
 * the edge's own
 * depth, so that as many px more on that side cure it.
 * @param eyes positions, -1/2 to +1/2
 * @param scale raster px per source px
 */
export function coverageOf(
  scene: SceneFrame,
  rasters: ShotRasters<Premultiplied>,
  eyes: readonly number[],
  scale: number,
): Coverage {
  const { width, height } = rasters.picture;
  const surfaces = [
    {
      top: 0,
      depth: rasters.depth,
      pixels: undefined as Picture['data'] | undefined,
      span: scene.back as Span,
    },
    ...drawnOf(scene).flatMap((p) =>
      rasters.plates
        .filter((r) => r.id === p.id)
        .map((r) => ({ top: r.top, depth: r.depth, pixels: r.picture.data, span: p })),
    ),
  ];
  let left = 0;
  let right = 0;
  let worst = { eye: 0, row: 0 };
  for (const eye of eyes) {
    const factor = (scene.swapEyes ? -eye : eye) - sourceEyePosition(scene.sourceEye);
    for (let y = 0; y < height; y++) {
      let low = Infinity;
      let high = -Infinity;
      for (const s of surfaces) {
        const row = y - s.top;
        if (row < 0 || row >= s.depth.height) continue;
        const { nearPx, farPx } = spanBudget(scene.budget, s.span);
        const far = farPx * scale;
        const near = nearPx * scale;
        for (let x = 0; x < width; x++) {
          const i = row * width + x;
          if (s.pixels && s.pixels[i * 4 + 3] === 0) continue;
          const at = x + factor * (far + ((near - far) * s.depth.data[i]) / 65535);
          if (at < low) low = at;
          if (at > high) high = at;
        }
      }
      const l = Math.max(0, Math.ceil(low - 0.5));
      const r = Math.max(0, Math.ceil(width - 1 - high - 0.5));
      if (Math.max(l, r) > Math.max(left, right)) worst = { eye, row: y };
      left = Math.max(left, l);
      right = Math.max(right, r);
    }
  }
  return { left, right, worst };
}
