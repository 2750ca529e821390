import { forward, keyAt, type ReadyMove } from './ready';

export const pullBack: ReadyMove = {
  kind: 'pull-back',
  name: 'Pull back',
  does: 'back out, to the source picture',
  path: 'straight',

  keys: (room, strength) => [keyAt(room, 0, { position: [0, 0, forward(room, strength)] }), keyAt(room, 1, {})],
};
