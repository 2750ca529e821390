import { covering, keyAt, sideways, type ReadyMove } from './ready';
import { inverseDistance } from '../sourceCamera';

export const arc: ReadyMove = {
  kind: 'arc',
  name: 'Arc',
  does: 'round a place in the picture',
  path: 'smooth',
  byDepth: true,
  keys: (room, strength) => {
    const distance = 1 / inverseDistance(room.depth, room.camera);
    // So far to the side as a slide goes, on a circle round the place.
    const most = Math.asin(Math.min(0.9, sideways(room, strength) / 2 / distance));
    const zoom = covering(room, distance * Math.sin(most), room.width);
    return [0, 0.25, 0.5, 0.75, 1].map((share) => {
      const angle = most * (2 * share - 1);
      const position = [distance * Math.sin(angle), 0, distance * (1 - Math.cos(angle))] as const;
      return keyAt(room, share, { position, aim: [0, 0, distance], zoom }, 'linear');
    });
  },
};
