import { flatWay } from '../../viewer/flatLens';
import type { RoomCore } from '../../room/core';
import type { StageModule } from '../module';
import { Head, WAYS } from './Panel';
import { cutSlice, type CutSlice } from './slice';
import { useFlood } from './tools/flood';
import { useHair } from './tools/hair';
import { useOutline } from './tools/outline';
import { usePieces } from './tools/pieces';
import { usePlace } from './tools/place';
import { useRegion } from './tools/region';
import { useTrace } from './tools/trace';

/** The brought-in plate that can be moved about; undefined where the one in work is none, or cannot be moved. */
const movable = ({ document, active }: RoomCore) =>
  document.plates.find((p) => p.id === active && p.piece !== null && !p.locked && !p.hidden);

/** Choosing what becomes a plate, and cutting it. */
export const cut: StageModule<CutSlice> = {
  key: 'cut',
  helps: { torn: null, unchosen: null },
  name: 'Cut',
  stands: ({ document: { plates } }) => {
    // Of a film it may be cut at another frame than the one that is seen.
    const made = plates.filter((p) => p.matte !== null || p.keys.length > 0).length;
    const planned = plates.length - made;
    if (planned > 0) return `${planned} to do`;
    if (made === 0) return 'back plate only';
    return `${made} ${made === 1 ? 'plate' : 'plates'} + back`;
  },
  ways: WAYS,
  Head,
  compact: true,
  seen: 'picture',
  beginsWith: ({ untouched }) => untouched,
  slice: cutSlice,
  tools: {
    outline: useOutline,
    trace: useTrace,
    flood: useFlood,
    region: useRegion,
    pieces: usePieces,
    edge: useHair,
    bring: usePlace,
  },
  tool: (s) => {
    const way = s.opened.cut;
    return way === 'bring' && !movable(s) ? undefined : way;
  },
  wrongWay: 'Plates are cut from the source. Choose Picture, Depth or Depth over picture above.',
  lens: (s) => {
    const over = flatWay(s);
    const choice = s.choice.ingredients.length > 0 ? s.choice : undefined;
    const { spare, active } = s;
    if (s.opened.cut === 'check') return { lens: 'check', ...over, check: s.check, choice, spare, active };
    const unsure = s.showsUnsure && s.opened.cut === 'region';
    return choice ? { lens: 'choice', ...over, choice, spare, active, unsure } : { lens: 'source', ...over, active };
  },
};
