import { anaglyph } from '@/core/packing/anaglyph';
import { sideBySide } from '@/core/packing/sideBySide';
import type { SceneAt } from '@/core/scene/sceneAt';
import { frameRoom } from '../frameRoom';
import type { Layer } from '../layer/layer';
import type { EyeWay } from '../look';
import type { Lens } from './lens';

/** What a moved camera sees, or the eyes that ride on it. */
export interface MovedAsk {
  readonly lens: 'moved';
  readonly way: 'picture' | EyeWay;
  /** For left and right: the other eye instead. For rock: which of the two. */
  readonly flipped: boolean;
  /** The camera and how it stands; the rest of the scene is what is asked beside it. */
  readonly at: Pick<SceneAt, 'height' | 'camera' | 'rig' | 'pose'>;
}

/** Which eye shows a way that has one. */
function eyeOf({ way, flipped }: MovedAsk): number | null {
  if (way === 'picture') return null;
  return (way === 'rock' ? flipped : (way === 'right') !== flipped) ? 0.5 : -0.5;
}

/** True for ways that show both eyes at once. */
export const twoEyed = ({ way }: Pick<MovedAsk, 'way'>): boolean => way === 'both' || way === 'glasses';

/**
 * Frames of a move, packed as a way shows them. Ways of one eye are seen two frames at a time.
 * @param room where a frame of so many bytes goes
 */
export async function movedFrames(
  layer: Layer,
  scenes: readonly SceneAt[],
  asks: readonly MovedAsk[],
  room: (bytes: number) => Uint8ClampedArray,
): Promise<{ readonly width: number; readonly height: number; readonly data: Uint8ClampedArray }[]> {
  await layer.prepare(scenes[0]);
  const { rasters } = layer.layout;
  const { width, height } = layer.picture;
  const kept = (data: Uint8Array | Uint8ClampedArray, across: number) => {
    const to = room(across * height * 4);
    to.set(data);
    return { width: across, height, data: to };
  };
  if (!twoEyed(asks[0])) {
    const seen = await layer.movedEyes.see(
      rasters,
      scenes.map((scene, n) => ({ scene, eye: eyeOf(asks[n]) })),
    );
    return seen.map(({ data }) => kept(data, width));
  }
  const frames = [];
  for (const [n, scene] of scenes.entries()) {
    const [left, right] = await layer.movedEyes.see(rasters, [
      { scene, eye: -0.5 },
      { scene, eye: 0.5 },
    ]);
    if (asks[n].way === 'both') frames.push(kept(sideBySide(left, right).data, 2 * width));
    else {
      const to = room(width * height * 4);
      anaglyph(left, right, 'red-cyan-least-squares', to);
      frames.push({ width, height, data: to });
    }
  }
  return frames;
}

export const moved: Lens<MovedAsk> = {
  key: 'moved',
  touches: false,
  wholeOnly: true,
  async draw(layer, { scene, ask }) {
    const [{ width, data }] = await movedFrames(layer, [{ ...scene, ...ask.at }], [ask], frameRoom);
    const frame = layer.frameOf(layer.whole, data);
    const { left, right } = layer.place;
    return {
      frame: ask.way === 'both' ? { ...frame, right: 2 * right - left, width } : frame,
      revealed: 0,
      part: false,
    };
  },
};
