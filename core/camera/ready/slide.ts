import { passing, type ReadyMove } from './ready';

export const slide: ReadyMove = {
  kind: 'slide',
  name: 'Slide',
  does: 'from left to right',
  path: 'straight',
  keys: (room, strength) => passing(room, strength, 'right', 'gentle'),
};
