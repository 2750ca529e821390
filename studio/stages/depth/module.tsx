import { keyAt } from '@/core/shot/atMoment';
import { isCarriedPlate } from '@/core/shot/isCarriedPlate';
import { plateKeyAt } from '@/core/shot/plateAtMoment';
import { flatWay } from '../../viewer/flatLens';
import type { StageModule } from '../module';
import { onKey } from './keys';
import { Head, WAYS } from './Panel';
import { Card } from './Card';
import { depthSlice, paintsBehind, type DepthSlice } from './slice';
import { useFaults } from './tools/faults';
import { useMarks } from './tools/marks';
import { useOutline } from './tools/outline';
import { usePaint } from './tools/paint';
import { usePart } from './tools/part';
import { useRamp } from './tools/ramp';
import { useTurn } from './tools/turn';
import { useVanishing } from './tools/vanishing';
import { useWipe } from './tools/wipe';

/** Painting, ramps, outlines, and depth pictures in and out. */
export const depth: StageModule<DepthSlice> = {
  key: 'depth',
  name: 'Depth',
  stands: ({ document, active }) => {
    const keys = document.footage?.keys.length;
    if (keys !== undefined) return keys === 1 ? '1 key' : `${keys} keys`;
    return document.plates.find((p) => p.id === active)?.name ?? 'back plate';
  },
  ways: WAYS,
  opens: 'paint',
  compact: true,
  Head,
  seen: 'depth-over-picture',
  slice: depthSlice,
  helps: { flat: 'start' },
  Below: Card,
  tools: {
    check: useFaults,
    start: useVanishing,
    marks: useMarks,
    paint: usePaint,
    ramp: useRamp,
    outline: useOutline,
    shape: usePart,
    relief: useTurn,
    steps: useWipe,
  },
  tool: (s) => {
    const { depth: way } = s.opened;
    const draws = s.shape.picking || (s.shape.where === 'chosen' && s.shape.kind !== 'mend');
    if (way === 'steps') return s.wipe ? way : undefined;
    return way === 'shape' && !draws ? undefined : way;
  },
  refuses: ({ document, active, moment, rolls }) => {
    if (rolls) return 'It plays. Hold it, then work on the frame that is seen.';
    const plate = document.plates.find((p) => p.id === active);
    if (!plate && document.footage && !keyAt(document.footage, moment))
      return `Depth of frame ${moment + 1} is carried from the keys. Set a key there, under Over time, to work on it.`;
    if (!plate) return undefined;
    if (isCarriedPlate(plate) && !plateKeyAt(plate, moment))
      return `${plate.name} is carried to frame ${moment + 1}. Set a key of it there, in Cut under Over time, to work on it.`;
    if (plate.hidden) return `${plate.name} lies face down: hidden. Turn its card over to paint on it.`;
    if (plate.locked) return `${plate.name} is locked. Unlock it on its card to paint on it.`;
    if (plate.matte === null) return `${plate.name} is only planned. Cut it first; then it has a depth to paint on.`;
    return undefined;
  },
  wrongWay: 'Depth is painted on the source. Choose Picture, Depth or Depth over picture above; the eyes follow.',
  lens: (s) => {
    const over = flatWay(s);
    const { choice, active, relief } = s;
    if (s.opened.depth === 'relief') return { lens: 'relief', ...relief.pose, quick: relief.turning };
    // By depth something else would be chosen while another depth is tried.
    const moves = s.shaping && choice.ingredients.some(({ kind }) => kind === 'slice');
    if (s.opened.depth === 'shape' && s.shape.where === 'chosen' && choice.ingredients.length > 0 && !moves)
      return { lens: 'choice', ...over, choice, spare: false, active, unsure: false, open: true };
    return paintsBehind(s) ? { lens: 'hidden-depth', ...over } : { lens: 'source', ...over, active: s.active };
  },
  boardMark: ({ opened, brush, document, active }) => {
    if (opened.depth !== 'paint' || brush.mode !== 'set') return undefined;
    // The brush's depth is a value of the plate in work, seen through its span.
    const { near, far } = document.plates.find((p) => p.id === active)?.depth ?? document.depth;
    return far + (near - far) * brush.depth;
  },
  onKey,
  keys: [
    ['Q', 'take the depth under the pen for the brush, or for the next mark'],
    ['Delete', 'take away the mark in work'],
    ['S, D', 'brush smaller, larger'],
    ['W, R', 'brush depth farther, nearer'],
  ],
};
