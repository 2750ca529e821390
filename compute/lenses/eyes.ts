import { anaglyph } from '@/core/packing/anaglyph';
import { sideBySide } from '@/core/packing/sideBySide';
import type { EyeWay } from '../look';
import { frameRoom } from '../frameRoom';
import type { Lens } from './lens';

/** What the eyes see. */
export interface EyesAsk {
  readonly lens: 'eyes';
  readonly way: EyeWay;
  /** For left and right: the other eye instead. For rock: which of the two. */
  readonly flipped: boolean;
  /** Stripe what the eyes' views uncover. */
  readonly markReveal: boolean;
}

export const eyes: Lens<EyesAsk> = {
  key: 'eyes',
  touches: false,
  async draw(layer, { scene, ask }) {
    await layer.prepare(scene);
    const { rasters } = layer.layout;
    const { way, flipped, markReveal } = ask;
    const { width, height } = layer.picture;
    if (way === 'left' || way === 'right' || way === 'rock') {
      const right = way === 'rock' ? flipped : (way === 'right') !== flipped;
      const which = right ? 1 : 0;
      const revealed = layer.eyes.render(scene, rasters, which, markReveal);
      const data = frameRoom(width * height * 4);
      data.set(layer.eyes.picture(which).data);
      return { frame: layer.frameOf(layer.whole, data), revealed, part: false };
    }
    const revealed = await layer.eyes.both(scene, rasters, markReveal);
    const left = layer.eyes.picture(0);
    const right = layer.eyes.picture(1);
    if (way === 'glasses') {
      const data = frameRoom(width * height * 4);
      anaglyph(left, right, 'red-cyan-least-squares', data);
      return { frame: layer.frameOf(layer.whole, data), revealed, part: false };
    }
    const both = sideBySide(left, right);
    const { left: x, right: end } = layer.place;
    const frame = layer.frameOf(layer.whole, new Uint8ClampedArray(both.data));
    return { frame: { ...frame, right: 2 * end - x, width: both.width }, revealed, part: false };
  },
};
