import { cleanColours } from '@/core/shot/plates';
import { drawOnGround, markRim, type Check } from '../draw/ground';
import type { DepthOver, FlatWay } from '../look';
import type { Chosen } from '../layer/layer';
import { lendChoice } from './choice';
import { flat, roomFor, type Lens } from './lens';
import { source } from './source';

/** The cut alone on a ground: the choice in work, or else the plate in work; the source where there is neither. */
export interface CheckAsk extends DepthOver, Chosen {
  readonly lens: 'check';
  readonly way: FlatWay;
  readonly check: Check;
}

export const check: Lens<CheckAsk> = {
  key: 'check',
  touches: true,
  draw(layer, asked, rect = layer.whole) {
    const { scene, ask } = asked;
    layer.follow(scene);
    const plate = layer.plates.find((p) => p.id === ask.active);
    const matte = ask.choice ? layer.chosenOf(ask) : plate?.matte;
    if (!matte) return source.draw(layer, { scene, ask: { ...ask, lens: 'source' } }, rect);
    const data = roomFor(rect);
    const picture = (!ask.choice && plate?.piece?.picture) || cleanColours(layer.picture, matte);
    const behind =
      ask.check.ground === 'behind'
        ? layer.backdrop.behind(layer.depth, layer.layout.cutPlates(scene), scene, {
            plate: ask.choice ? undefined : (ask.active ?? undefined),
            matte,
          })
        : undefined;
    const shift = Math.round(ask.check.shiftPx * layer.place.scale);
    drawOnGround({ picture, matte, ...(behind ? { behind: { picture: behind, shift } } : {}) }, ask.check, rect, data);
    if (ask.check.rim) markRim({ picture, matte, ground: layer.picture }, rect, data);
    return flat(layer, rect, data);
  },
  lend: (whole, detail, { ask }) => {
    lendChoice(whole, detail, ask);
  },
};
