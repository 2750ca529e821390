import { forward, keyAt, type ReadyMove } from './ready';
import { inverseDistance } from '../sourceCamera';

export const oppositeZoom: ReadyMove = {
  kind: 'opposite-zoom',
  name: 'Opposite zoom',
  does: 'in, while what is chosen keeps its size',
  path: 'straight',
  byDepth: true,
  keys: (room, strength) => {
    const way = forward(room, strength);
    // Seen from there it is larger by 1 / (1 - way / distance): that much the focal length takes back.
    const zoom = 1 - way * inverseDistance(room.depth, room.camera);
    return [keyAt(room, 0, { position: [0, 0, way], zoom }), keyAt(room, 1, {})];
  },
};
