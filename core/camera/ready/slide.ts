import { covering, farthest, keyAt, sideways, type ReadyMove } from './ready';

export const slide: ReadyMove = {
  kind: 'slide',
  name: 'Slide',
  does: 'from left to right',
  path: 'straight',

  keys: (room, strength) => {
    const reach = sideways(room, strength) / 2;
    const aim = farthest(room);
    const zoom = covering(room, reach);
    return [
      keyAt(room, 0, { position: [-reach, 0, 0], aim, zoom }),
      keyAt(room, 1, { position: [reach, 0, 0], aim, zoom }),
    ];
  },
};
