import { forward, keyAt, type ReadyMove } from './ready';

export const pushIn: ReadyMove = {
  kind: 'push-in',
  name: 'Push in',
  does: 'forward, into the picture',
  path: 'straight',

  keys: (room, strength) => [keyAt(room, 0, {}), keyAt(room, 1, { position: [0, 0, forward(room, strength)] })],
};
