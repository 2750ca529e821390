import { farthest, forward, keyAt, sideways, type ReadyMove } from './ready';

export const drift: ReadyMove = {
  kind: 'drift',
  name: 'Drift',
  does: 'to the right and in, slowly',
  path: 'smooth',

  keys: (room, strength) => {
    const side = sideways(room, strength) / 2;
    const way = forward(room, strength) / 2;
    const aim = farthest(room);
    return [keyAt(room, 0, { aim }, 'gentle'), keyAt(room, 1, { position: [side, side * 0.12, way], aim }, 'gentle')];
  },
};
