import type { Behind } from '@/compute/lenses/behind';
import type { RevealCount } from '@/compute/layer/lookBehind';
import type { FillEdit } from '@/core/fill/edits';
import type { FillMethod } from '@/core/inpaint/fillHole';
import { fillEditLabel } from '@/core/fill/edits';
import { wholeScene } from '@/core/scene/sceneAt';
import { rangeOf, type HeldStroke, type ShotDocument } from '@/core/shot/document';
import type { Point } from '@/core/raster/geometry';
import { api, type FillAction } from '../../api';
import { sliceHooks } from '../../room/context';
import { partOf, type RoomCore, type SliceRoom } from '../../room/core';

/** The brushes of filling by hand. */
export interface Hand {
  size: number;
  hardness: number;
  strength: number;
  /** Where clones are taken from, as distance from the stroke's first point; empty until a source is picked. */
  sources: { dx: number; dy: number }[];
  /** The picked places themselves, for a source that follows: undefined until the first stroke has tied them. */
  picked: Point[];
  follows: boolean;
  scale: number;
  turn: number;
  flip: boolean;
  jitter: number;
  seamless: boolean;
  beyond: boolean;
  soft: number;
  lineWidth: number;
  /** What a stroke says: a line goes on along it, or two grounds meet there. */
  stroke: 'line' | 'border';
  /** Whether a stroke is drawn straight from where it begins to where it ends, or follows the hand. */
  straight: boolean;
  /** Whether what lies beside a line is filled anew. */
  besideAnew: boolean;
}

/** How the stage looks behind the plates; the move comes from the document. */
export type LookBehind = Omit<Behind, 'move'> & {
  /** Also what the camera's move uncovers, where there is one. */
  readonly byMove: boolean;
};

/** What the preview is asked for. */
export function lookingOf({ byMove, ...behind }: LookBehind, document: ShotDocument): Behind {
  const { move } = document;
  return { ...behind, move: byMove && move ? { scene: wholeScene(document), move, ...rangeOf(move) } : null };
}

export interface Proposals {
  readonly plate: string | null;
  /** How the machine filled. */
  readonly method: FillMethod;
  readonly revisions: readonly string[];
}

/** What filling behind the plates knows. */
export interface FillSlice {
  /** How it is looked behind the plates. */
  behind: LookBehind;
  /** True while the key is held that makes nearer plates step aside. */
  stepAside: boolean;
  /** What is just being drawn. */
  drawing: FillEdit | undefined;
  /** What the fill brushes do. */
  hand: Hand;
  /** Proposals of the last fill, the one that was taken first. */
  proposals: Proposals | undefined;
  /** What the views uncover of each plate, nearest first; undefined while it is not known. */
  uncovered: readonly RevealCount[] | undefined;
  /** Fills by machine, takes a proposal, throws a fill away. */
  fillBy(label: string, act: FillAction): void;
  /** Fills by hand. */
  fillEdit(edit: FillEdit): void;
}

export const { useSlice: useFill, useSliceStore: useFillStore } = sliceHooks<FillSlice>();

/** The strokes that the fills of the plate in hand heed. */
export const strokesOf = ({ active, document }: Pick<RoomCore, 'active' | 'document'>): readonly HeldStroke[] =>
  (active === null ? document : document.plates.find((p) => p.id === active))?.strokes ?? NO_STROKES;
const NO_STROKES: readonly HeldStroke[] = [];

export function fillSlice({ shot, get, set, push, pushLong }: SliceRoom<FillSlice>): FillSlice {
  let strokes = 0;
  return {
    behind: { asidePx: 0, reveal: true, stretch: false, marginPx: 2, views: 2, byMove: true },
    stepAside: false,
    drawing: undefined,
    proposals: undefined,
    uncovered: undefined,
    hand: {
      size: partOf(shot, 32, 10),
      hardness: 0.6,
      strength: 1,
      sources: [],
      picked: [],
      follows: true,
      scale: 1,
      turn: 0,
      flip: false,
      jitter: 0,
      seamless: false,
      beyond: false,
      soft: 3,
      lineWidth: partOf(shot, 60, 6),
      stroke: 'line',
      straight: true,
      besideAnew: true,
    },
    fillBy: (label, act) => {
      const { plate } = act;
      const send = act.action === 'fill' ? pushLong : push;
      send({
        label,
        says: act,
        send: (at) => api.fill(shot.id, at, act),
        stored: (next) => {
          const { proposals } = next as { proposals?: readonly string[] };
          if (proposals && act.action === 'fill')
            set({ proposals: { plate, method: act.method, revisions: proposals } });
        },
      });
    },
    fillEdit: (edit) => {
      const plate = get().active;
      const n = ++strokes;
      set({ hands: [...get().hands, { n, plate, edit, stored: false }], drawing: undefined });
      push({
        label: fillEditLabel(edit),
        says: { plate, edit },
        send: (at) => api.fill(shot.id, at, { action: 'edit', plate, edit }),
        ended: (stored) => {
          const { hands } = get();
          set({
            hands: stored ? hands.map((h) => (h.n === n ? { ...h, stored } : h)) : hands.filter((h) => h.n !== n),
          });
        },
      });
    },
  };
}
