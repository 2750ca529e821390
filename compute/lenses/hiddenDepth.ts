import { withPlates } from '@/core/scene/sceneOf';
import { copyRect } from '../draw/copyRect';
import { drawDepth, drawDepthOverPicture } from '../draw/depth';
import { AbsoluteDepth } from '../layer/absoluteDepth';
import type { DepthOver, FlatWay } from '../look';
import { flat, roomFor, type Lens } from './lens';
import { source } from './source';

/** The back plate alone, with the depth that it has behind the plates, through its own span. */
export interface HiddenDepthAsk extends DepthOver {
  readonly lens: 'hidden-depth';
  readonly way: FlatWay;
}

export const hiddenDepth: Lens<HiddenDepthAsk> = {
  key: 'hidden-depth',
  touches: true,
  async draw(layer, { scene, ask }, rect = layer.whole) {
    await layer.prepare(scene);
    if (!layer.behind) return source.draw(layer, { scene, ask: { ...ask, lens: 'source', active: null } }, rect);
    const data = roomFor(rect);
    const { picture } = layer.layout.rasters;
    const map = new AbsoluteDepth(layer.behind).map(withPlates(scene, []), []);
    if (ask.way === 'picture') copyRect(picture, rect, data);
    else if (ask.way === 'depth') drawDepth(map, rect, data);
    else drawDepthOverPicture({ picture, depth: map, budget: scene.budget }, ask, rect, data);
    return flat(layer, rect, data);
  },
};
