import type { Behind } from '@/compute/lenses/behind';
import type { HandEdit } from '@/compute/look';
import { flatWay } from '../../viewer/flatLens';
import { figure } from '../../numbers';
import type { RoomCore } from '../../room/core';
import type { StageModule } from '../module';
import { Head, WAYS } from './Panel';
import { fillSlice, lookingOf, type FillSlice } from './slice';
import { useClone } from './tools/clone';
import { useCopy } from './tools/copy';
import { useErase } from './tools/erase';
import { useLine } from './tools/line';

type Seen = RoomCore & FillSlice;
const NO_HANDS: readonly HandEdit[] = [];

/** What hands have drawn that the rasters do not hold, the stroke under the pen last. */
function handsOf({ hands, drawing, active }: Seen): readonly HandEdit[] {
  if (hands.length === 0 && !drawing) return NO_HANDS;
  const drawn = hands.map(({ n, plate, edit }) => ({ n, plate, edit }));
  return drawing ? [...drawn, { n: Infinity, plate: active, edit: drawing }] : drawn;
}

/** How it is looked behind; while the key is held nearer plates step aside by a fifth of the width. */
const behindOf = ({ behind, stepAside, document }: Seen): Behind => ({
  ...lookingOf(behind, document),
  ...(stepAside ? { asidePx: Math.round(document.source.width / 5) } : {}),
});

/** Knowing what the views uncover, and putting a believable picture there. */
export const fill: StageModule<FillSlice> = {
  key: 'fill',
  helps: { open: null },
  name: 'Fill',
  stands: ({ document, uncovered }) => {
    if (document.plates.every((p) => p.matte === null)) return 'nothing hidden';
    if (!uncovered) return 'not counted yet';
    const open = uncovered.reduce((sum, u) => sum + u.open, 0);
    return open === 0 ? 'all filled' : `${figure(open)} px open`;
  },
  ways: WAYS,
  Head,
  compact: true,
  seen: 'picture',
  slice: fillSlice,
  tools: { clone: useClone, copy: useCopy, line: useLine, erase: useErase },
  refuses: ({ document, active }) => {
    const plate = document.plates.find((p) => p.id === active);
    if (!plate) return undefined;
    if (document.footage)
      return `On a film only the back plate is filled. ${plate.name} goes on smoothly behind nearer plates.`;
    if (plate.hidden) return `${plate.name} lies face down: hidden. Turn its card over to fill behind it.`;
    if (plate.locked) return `${plate.name} is locked. Unlock it on its card to fill on it.`;
    if (plate.matte === null) return `${plate.name} is only planned. Cut it first; then it can be filled.`;
    return undefined;
  },
  wrongWay: 'Filling is done on the plates themselves. Choose Picture above.',
  lens: (s) => {
    const { active } = s;
    const over = flatWay(s);
    if (over.way === 'picture') return { lens: 'behind', active, behind: behindOf(s), hands: handsOf(s) };
    return { lens: 'source', ...over, active };
  },
  pictureNote: 'striped: uncovered and open; within a pale line: filled',
  cardNote: ({ uncovered }, plate) => {
    const open = uncovered?.find((u) => u.id === plate)?.open ?? 0;
    return open > 0 ? `to fill: ${figure(open)} px` : undefined;
  },
  onKey: ({ key, repeat }, store) => {
    if (key.toLowerCase() !== 'v') return false;
    if (!repeat) store.getState().set({ stepAside: true });
    return true;
  },
  onKeyUp: ({ key }, store) => {
    if (key.toLowerCase() === 'v') store.getState().set({ stepAside: false });
  },
  keys: [['hold V', 'nearer plates step aside']],
};
