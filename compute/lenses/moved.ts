import { anaglyph } from '@/core/packing/anaglyph';
import { sideBySide } from '@/core/packing/sideBySide';
import type { Pose } from '@/core/camera/pose';
import { emptyPicture, type Premultiplied8 } from '@/core/raster/picture';
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
  /** How it stands at this moment in another version of the move, which is shown at its right; null: none. */
  readonly beside: Pose | null;
  /** Also in a window in detail: it takes its time. */
  readonly closer: boolean;
}

/** Which eye shows a way that has one. */
function eyeOf({ way, flipped }: MovedAsk): number | null {
  if (way === 'picture') return null;
  return (way === 'rock' ? flipped : (way === 'right') !== flipped) ? 0.5 : -0.5;
}

/** True for ways that show both eyes at once. */
export const twoEyed = ({ way }: Pick<MovedAsk, 'way'>): boolean => way === 'both' || way === 'glasses';

/** True where one frame needs more than one picture. */
export const manyViews = (ask: Pick<MovedAsk, 'way' | 'beside'>): boolean => twoEyed(ask) || ask.beside !== null;

/** A moment through one way to see, and through both eyes where it shows both. */
async function packed(layer: Layer, scene: SceneAt, ask: MovedAsk): Promise<Premultiplied8> {
  const { rasters } = layer.layout;
  const [left, right] = await layer.movedEyes.see(rasters, [
    { scene, eye: -0.5 },
    { scene, eye: 0.5 },
  ]);
  if (ask.way === 'both') return sideBySide(left, right);
  const out = emptyPicture(left, left.width, left.height);
  anaglyph(left, right, 'red-cyan-least-squares', out.data as Uint8Array);
  return out;
}

/** One moment, and the other version's at its right where there is one. */
async function frameOf(layer: Layer, scene: SceneAt, ask: MovedAsk): Promise<Premultiplied8> {
  const { beside } = ask;
  if (!beside) return packed(layer, scene, ask);
  const other = { ...scene, pose: beside };
  if (twoEyed(ask)) return sideBySide(await packed(layer, scene, ask), await packed(layer, other, ask));
  const eye = eyeOf(ask);
  const [own, version] = await layer.movedEyes.see(layer.layout.rasters, [
    { scene, eye },
    { scene: other, eye },
  ]);
  return sideBySide(own, version);
}

/**
 * Frames of a move, packed as a way shows them. Where each is one picture two are seen at a time.
 * @param room where a frame of so many bytes goes
 */
export async function movedFrames(
  layer: Layer,
  scenes: readonly SceneAt[],
  asks: readonly MovedAsk[],
  room: (bytes: number) => Uint8ClampedArray,
): Promise<{ readonly width: number; readonly height: number; readonly data: Uint8ClampedArray }[]> {
  await layer.prepare(scenes[0]);
  const kept = ({ width, height, data }: Premultiplied8) => {
    const to = room(width * height * 4);
    to.set(data);
    return { width, height, data: to };
  };
  if (!manyViews(asks[0])) {
    const seen = await layer.movedEyes.see(
      layer.layout.rasters,
      scenes.map((scene, n) => ({ scene, eye: eyeOf(asks[n]) })),
    );
    return seen.map(kept);
  }
  const frames = [];
  for (const [n, scene] of scenes.entries()) frames.push(kept(await frameOf(layer, scene, asks[n])));
  return frames;
}

export const moved: Lens<MovedAsk> = {
  key: 'moved',
  touches: false,
  notCloser: (ask) => !ask.closer,
  async draw(layer, { scene, ask }) {
    const [{ width, data }] = await movedFrames(layer, [{ ...scene, ...ask.at }], [ask], frameRoom);
    const frame = layer.frameOf(layer.whole, data);
    const { left, right } = layer.place;
    const pictures = width / layer.picture.width;
    return {
      frame: { ...frame, right: left + pictures * (right - left), width },
      revealed: 0,
      part: false,
    };
  },
};
