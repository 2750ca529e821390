import type { SourceAsk } from '@/compute/lenses/source';
import type { FlatWay } from '@/compute/look';
import type { RoomCore } from '../room/core';
import { contourStep } from './contours';

/** What a flat way to see shows, whichever stage asks. */
export const flatWay = (s: RoomCore) => ({
  way: s.ways[s.stage] as FlatWay,
  strength: s.depthStrength,
  contourPx: s.contourPx ?? contourStep(s.document.budget),
  shown: s.depthShown,
  lightDeg: s.lightDeg,
});

/** The source as it is, for stages that lay nothing over it. */
export const sourceLens = (s: RoomCore): SourceAsk => ({ lens: 'source', ...flatWay(s), active: null });
