import { covering, farthest, keyAt, sideways, type ReadyMove } from './ready';

export const rise: ReadyMove = {
  kind: 'rise',
  name: 'Rise',
  does: 'up from behind what is near',
  path: 'straight',

  keys: (room, strength) => {
    const reach = sideways(room, strength) / 2;
    const aim = farthest(room);
    const zoom = covering(room, reach);
    return [
      keyAt(room, 0, { position: [0, -reach, 0], aim, zoom }, 'settle'),
      keyAt(room, 1, { position: [0, reach, 0], aim, zoom }, 'settle'),
    ];
  },
};
