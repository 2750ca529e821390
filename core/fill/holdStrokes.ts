import { copyPicture, type Mask, type Premultiplied } from '../raster/picture';
import type { HeldStroke } from '../shot/document';
import { besideStroke } from './beside';
import { filledInto } from './filledInto';
import { HandFill } from './handFill';
import { partGrounds, type FillBy } from './partGrounds';
import type { PlateGround } from './plateGround';

/** A plate that is to be filled. */
export interface Filling {
  readonly bare: PlateGround<Premultiplied>;
  /** What was put on it so far. */
  readonly hand: HandFill;
  /** What is to be filled of it. */
  readonly hole: Mask;
}

/** What is left to be filled when the strokes have had their say. */
export interface Held {
  /** The plate with what the strokes asked for. */
  readonly picture: Premultiplied;
  /** What is left of the hole; nothing, where the strokes reach all of it. */
  readonly hole: Mask;
  /** Where the strokes had it filled. */
  readonly done: Mask;
}

/**
 * Fills what an artist's strokes ask for of a hole, in their order, so that all else goes on from it: lines are laid, and
 * beside a border each ground goes on from its own side.
 * @throws CoreError what partGrounds throws
 */
export function holdStrokes({ bare, hand, hole }: Filling, strokes: readonly HeldStroke[], by: FillBy): Held {
  const { overpaint } = hand;
  const done = new Uint8Array(hole.data.length);
  if (strokes.length === 0) return { picture: hand.picture, hole, done: { ...hole, data: done } };
  let work = new HandFill(bare, { fill: copyPicture(hand.fill), overpaint }, { picture: copyPicture(hand.picture) });
  const left = new Uint8Array(hole.data.map((v) => (v >= 128 ? 255 : 0)));
  const { ignore, onProgress } = by.options;
  for (const [n, { kind, points, width, reach }] of strokes.entries()) {
    const near = besideStroke(hole, points, kind === 'line' ? width / 2 : reach);
    const part: Mask = { ...hole, data: near.data.map((v, i) => (v && left[i] ? 255 : 0)) };
    if (!part.data.includes(255)) continue;
    if (kind === 'line') work.apply({ kind, points, width, beyond: false });
    else {
      const picture = partGrounds(work.picture, part, points, {
        ...by,
        options: {
          ...by.options,
          ...(ignore ? { ignore: { ...ignore, data: ignore.data.map((v, i) => (done[i] ? 0 : v)) } } : {}),
          onProgress: (share) => onProgress?.((n + share) / strokes.length),
        },
      });
      work = new HandFill(bare, { fill: filledInto(work.fill, picture, part), overpaint });
    }
    part.data.forEach((v, i) => {
      if (v) [left[i], done[i]] = [0, 255];
    });
  }
  return { picture: work.picture, hole: { ...hole, data: left }, done: { ...hole, data: done } };
}
