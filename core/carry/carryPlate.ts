import { CoreError } from '../error';
import { isOutlined } from '../matte/choicePoints';
import { ChoiceMaker, type Choice } from '../matte/choice';
import type { Place } from '../raster/geometry';
import type { DepthMap, Mask } from '../raster/picture';
import { carryMatte, type MatteKey } from './carryMatte';
import type { Frames } from './carryKeys';
import { decideAnew, keyColours, type PlacedKey } from './layer/decideAnew';
import { layerDepth } from './layer/layerDepth';
import type { PlacedLayer } from './layer/placedLayer';
import { layerOutline } from './layer/layerOutline';

/** A plate at a frame at which it was cut. */
export interface PlateKeyPixels extends MatteKey {
  readonly depth: DepthMap;
  /** How it was chosen, in px of the full size. */
  readonly choice: Choice | undefined;
}

/** A plate as it is carried to a frame. */
export interface CarriedPlate {
  readonly frame: number;
  readonly matte: Mask;
  readonly depth: DepthMap;
  /** Share of it whose colours agree with a key's, 0 to 1. */
  readonly trust: number;
  /** Its outlines there, where it was chosen by nothing else. */
  readonly choice: Choice | undefined;
}

/**
 * Carries a plate from its keys to all other frames, with its depth. One that was chosen by outlines alone is drawn
 * anew in each frame from its moved points; any other is laid there as it looks in its keys, and where region paint
 * had a say, decided anew along its edge where its layer does not fit any more.
 * @param place what the frames show of the full size
 * @throws CoreError what `carryMatte` throws
 */
export async function* carryPlate(
  frames: Frames,
  keys: readonly PlateKeyPixels[],
  place: Place,
): AsyncGenerator<CarriedPlate> {
  const keyOf = (frame: number): PlateKeyPixels => keys.find((key) => key.frame === frame)!;
  const painted = new PaintedKeys(frames, keyOf);
  const outlined = (frame: number): Choice | undefined => {
    const { choice } = keyOf(frame);
    return choice && isOutlined(choice) ? choice : undefined;
  };
  for await (const { frame, matte: laid, trust, placed } of carryMatte(frames, keys)) {
    if (keys.some((key) => key.frame === frame)) continue;
    const choice = layerOutline(placed, place, outlined);
    let matte = laid;
    if (choice) matte = await drawn(frames, frame, { choice, place });
    else if (placed.some(({ key }) => isRegion(keyOf(key).choice))) {
      const found = placed.filter(({ sure }) => sure);
      matte = decideAnew(await frames.frame(frame), laid, await painted.of(found));
    }
    yield { frame, matte, depth: layerDepth(matte, placed, (key) => keyOf(key).depth), trust, choice };
  }
}

const isRegion = (choice: Choice | undefined): boolean =>
  choice?.ingredients.some(({ kind }) => kind === 'region') === true;

/** What keys look like, learnt once. */
class PaintedKeys {
  private readonly known = new Map<number, Omit<PlacedKey, 'placed'> | undefined>();

  constructor(
    private readonly frames: Frames,
    private readonly keyOf: (frame: number) => PlateKeyPixels,
  ) {}

  async of(placed: readonly PlacedLayer[]): Promise<PlacedKey[]> {
    const found: PlacedKey[] = [];
    for (const layer of placed) {
      if (!this.known.has(layer.key)) {
        const picture = await this.frames.frame(layer.key);
        const colours = keyColours(picture, this.keyOf(layer.key).matte);
        this.known.set(layer.key, colours && { picture, colours });
      }
      const key = this.known.get(layer.key);
      if (key) found.push({ ...key, placed: layer });
    }
    return found;
  }
}

/** Outlines as they are drawn over a frame; nothing where they lie beyond it. */
async function drawn(
  frames: Frames,
  frame: number,
  { choice, place }: { readonly choice: Choice; readonly place: Place },
): Promise<Mask> {
  const picture = await frames.frame(frame);
  const { width, height } = picture;
  try {
    // Outlines do not ask for depth.
    return new ChoiceMaker(picture, place).make(choice, { width, height, data: new Uint16Array(width * height) });
  } catch (error) {
    if (!(error instanceof CoreError) || error.code !== 'nothing-chosen') throw error;
    return { width, height, data: new Uint8Array(width * height) };
  }
}
