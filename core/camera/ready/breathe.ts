import { forward, keyAt, type ReadyMove } from './ready';

export const breathe: ReadyMove = {
  kind: 'breathe',
  name: 'Breathe',
  does: 'a little in, and back',
  path: 'straight',

  keys: (room, strength) => [
    keyAt(room, 0, {}),
    keyAt(room, 0.5, { position: [0, 0, forward(room, strength) / 2] }),
    keyAt(room, 1, {}),
  ],
};
