import type { DepthMap, Mask, Picture8 } from '../../raster/picture';
import { ChoiceMaker } from '../../matte/choice';
import { markGround, type MarkGround } from '../marks/nodes';
import { Start } from '../start/generateStart';

/** What a whole depth map is made of. */
export interface MakerGround {
  readonly picture: Picture8;
  /** The map as it stands. */
  readonly depth: DepthMap;
  /** The map that marks began on. @default the map as it stands */
  readonly base?: DepthMap;
  /** The matte of the plate whose map it is. @default the back plate's */
  readonly matte?: Mask;
  /** Px of the picture per full-size px. */
  readonly scale: number;
  /** The hand has not let go: what is quick counts more than what is exact. @default false */
  readonly quick?: boolean;
}

/** What was seen in pictures, kept as long as these are. */
const starts = new WeakMap<Picture8, Start>();
const choosing = new WeakMap<Picture8, ChoiceMaker>();
const grounds = new WeakMap<Picture8, MarkGround>();

function keptOf<T>(known: WeakMap<Picture8, T>, picture: Picture8, make: (picture: Picture8) => T): T {
  const found = known.get(picture) ?? make(picture);
  known.set(picture, found);
  return found;
}

export const startOf = (picture: Picture8): Start => keptOf(starts, picture, (p) => new Start(p));
export const marksGroundOf = (picture: Picture8): MarkGround => keptOf(grounds, picture, markGround);
export const choosingOf = ({ picture, scale }: MakerGround): ChoiceMaker =>
  keptOf(choosing, picture, (p) => new ChoiceMaker(p, { left: 0, top: 0, scale }));
