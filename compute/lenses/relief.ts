import { renderRelief } from '@/core/depth/relief/renderRelief';
import type { ReliefPose } from '@/core/depth/relief/reliefView';
import { flat, type Lens } from './lens';

/** The picture as a surface, seen from the side. */
export interface ReliefAsk extends ReliefPose {
  readonly lens: 'relief';
  /** The hand is turning it: coarser, and at once. */
  readonly quick: boolean;
}

/** So many facets at most, at rest and while it turns. */
const FACETS = { rest: 400_000, quick: 40_000 };

export const relief: Lens<ReliefAsk> = {
  key: 'relief',
  touches: false,
  notCloser: () => true,
  draw(layer, { scene, ask }) {
    layer.follow(scene);
    const { picture, whole } = layer;
    const most = ask.quick ? FACETS.quick : FACETS.rest;
    const step = Math.max(1, Math.ceil(Math.sqrt((picture.width * picture.height) / most)));
    return flat(layer, whole, renderRelief(picture, layer.absoluteMap(scene), ask, step));
  },
};
