import type { SceneFrame } from '@/core/scene/sceneOf';
import { behind, type BehindAsk } from './behind';
import { check, type CheckAsk } from './check';
import { choice, type ChoiceAsk } from './choice';
import { eyes, type EyesAsk } from './eyes';
import { hiddenDepth, type HiddenDepthAsk } from './hiddenDepth';
import type { Asked, Lens } from './lens';
import { moved, type MovedAsk } from './moved';
import { relief, type ReliefAsk } from './relief';
import { source, type SourceAsk } from './source';

export type { Asked, Drawn, Lens } from './lens';

/** What a lens can be asked for. */
export type Ask = SourceAsk | ChoiceAsk | CheckAsk | HiddenDepthAsk | BehindAsk | EyesAsk | MovedAsk | ReliefAsk;

/** Every lens. A new one is a file in this folder, a name in this list and its ask in the one above. */
const LENSES = [source, choice, check, hiddenDepth, behind, eyes, moved, relief] as const;

/** The lens that an ask is for. */
export const lensOf = (ask: Ask): Lens<Ask> => LENSES.find(({ key }) => key === ask.lens) as unknown as Lens<Ask>;

/** What a frame of the preview depends on: the scene, and what a lens shows of it. */
export interface LookRequest extends Asked<Ask> {
  readonly scene: SceneFrame;
}
