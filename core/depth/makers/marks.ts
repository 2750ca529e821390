import type { z } from 'zod';
import type { KindOf } from '../../kind';
import { CoreError } from '../../error';
import { depthFromMarks } from '../marks/depthFromMarks';
import { overMap } from '../overMap';
import { drawnMarks } from '../marks/drawnMarks';
import { marksSchema, shiftMark } from '../marks/markStroke';
import { marksGroundOf, type MakerGround } from './ground';

/** From a few marks, or a map corrected by them. */
export const marks: KindOf<typeof marksSchema, MakerGround, Float32Array> = {
  kind: 'marks',
  schema: marksSchema,
  bounds: (_make, { width, height }) => ({ left: 0, top: 0, right: width, bottom: height }),
  apply: fromMarks,
  label: ({ marks: { length } }) => (length === 1 ? 'Depth from a mark' : `Depth from ${length} marks`),
  shift: (make, dx, dy) => ({ ...make, marks: make.marks.map((mark) => shiftMark(mark, dx, dy)) }),
};

function fromMarks(ground: MakerGround, make: z.infer<typeof marksSchema>): Float32Array {
  const { picture, scale, quick = false } = ground;
  const base = ground.base ?? ground.depth;
  const asIs = (): Float32Array => overMap(base, (v) => v);
  const { marks: drawn, relations } = drawnMarks(make.marks, picture, scale);
  if (drawn.length === 0) return asIs();
  const corrects = make.by === 'correct';
  const known = drawn.map(({ pixels, depth }) => {
    if (depth === undefined || !corrects) return { pixels, ...(depth === undefined ? {} : { depth }) };
    let sum = 0;
    for (let k = 0; k < pixels.length; k++) sum += base.data[pixels[k]];
    return { pixels, depth: depth - sum / pixels.length / 65535 };
  });
  const made = depthFromMarks(picture, marksGroundOf(picture), known, {
    relations,
    exact: !quick,
    ...(corrects ? { method: 'look' as const, differences: true } : {}),
  });
  if (!made)
    throw new CoreError(
      'no-depth-marked',
      'No mark has a depth yet: give one of them a depth, then relations count too.',
    );
  if (!corrects) return made;
  return made.map((v, i) => Math.min(1, Math.max(0, base.data[i] / 65535 + v)));
}
