import { passing, type ReadyMove } from './ready';

export const rise: ReadyMove = {
  kind: 'rise',
  name: 'Rise',
  does: 'up from behind what is near',
  path: 'straight',
  keys: (room, strength) => passing(room, strength, 'up', 'settle'),
};
