import { arc } from './arc';
import { breathe } from './breathe';
import { drift } from './drift';
import { lookRound } from './lookRound';
import { oppositeZoom } from './oppositeZoom';
import { pullBack } from './pullBack';
import { pushIn } from './pushIn';
import type { ReadyMove } from './ready';
import { rise } from './rise';
import { slide } from './slide';

export type { MoveRoom, ReadyMove } from './ready';

/** Every ready move, as they are offered. A new one is a file in this folder and a name in this list. */
export const READY_MOVES: readonly ReadyMove[] = [
  pushIn,
  pullBack,
  slide,
  rise,
  arc,
  breathe,
  oppositeZoom,
  drift,
  lookRound,
];

export const readyMove = (kind: string): ReadyMove | undefined => READY_MOVES.find((ready) => ready.kind === kind);
