import type { BrushSettings } from '@/core/depth/brush';
import type { DepthEdit } from '@/core/depth/edits';
import { mendedSentence } from '@/core/depth/mendDepth';
import type { DepthBroughtIn } from '@/server/shots/depth';
import { api, type ChangeAt, type DepthFile } from '../../api';
import { sliceHooks } from '../../room/context';
import { partOf, type RoomCore, type SliceRoom } from '../../room/core';
import { makingSlice, type MakingSlice } from './making';

type Ramp = Extract<DepthEdit, { kind: 'ramp' }>;

/** What painting depth knows. */
export interface DepthSlice extends MakingSlice {
  brush: BrushSettings;
  ramp: { fromDepth: number; toDepth: number } & Pick<Ramp, 'reach' | 'against' | 'shape'>;
  outlineDepth: number;
  /** Strokes on the back plate go to its depth behind the plates. */
  paintBehind: boolean;
  /** Puts a depth picture in the place of a map; done when it is there, or refused. */
  importDepth(file: DepthFile): Promise<void>;
}

export const { useSlice: useDepth, useSliceStore: useDepthStore } = sliceHooks<DepthSlice>();

/** True while strokes go to the depth behind the plates. */
export const paintsBehind = ({ active, paintBehind, document }: RoomCore & DepthSlice): boolean =>
  active === null && paintBehind && document.depth.behind !== null;

/** Which depth a stroke lands on. */
export const targetOf = (s: RoomCore & DepthSlice): { plate: string | null; behind: boolean } => ({
  plate: s.active,
  behind: paintsBehind(s),
});

/** True where only the source's own picture is painted over: its edges can stop a brush. */
export const hasEdges = ({ document }: RoomCore, { plate, behind }: ReturnType<typeof targetOf>): boolean =>
  !behind && !document.plates.some((p) => p.id === plate && p.piece);

/** The brush as it works on a depth. */
export const brushOn = (s: RoomCore & DepthSlice, target: ReturnType<typeof targetOf>): BrushSettings =>
  hasEdges(s, target) ? s.brush : { ...s.brush, edge: 0 };

export function depthSlice(room: SliceRoom<DepthSlice>): DepthSlice {
  const { shot, get, push } = room;
  return {
    ...makingSlice(room),
    brush: {
      mode: 'set',
      depth: 0.7,
      size: partOf(shot, 20, 8),
      hardness: 0.5,
      strength: 1,
      pressure: 'strength',
      edge: 0,
      grain: 24,
    },
    ramp: { fromDepth: 0, toDepth: 1, shape: 'line', reach: 'everywhere', against: 'replace' },
    outlineDepth: 0.7,
    paintBehind: false,
    importDepth: (file) =>
      new Promise((done) => {
        push({
          label: `Depth from ${file.file.name}`,
          says: file.file.name,
          send: (at: ChangeAt) => api.importDepth(shot.id, at, file),
          stored: (next) => {
            const { mended } = next as DepthBroughtIn;
            const sentence = mended ? mendedSentence(mended) : undefined;
            if (sentence) get().notify('info', sentence);
          },
          ended: () => {
            done();
          },
        });
      }),
  };
}
