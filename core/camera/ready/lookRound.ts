import { keyAt, type ReadyMove } from './ready';

export const lookRound: ReadyMove = {
  kind: 'look-round',
  name: 'Look round',
  does: 'turns from left to right',
  path: 'straight',

  keys: (room, strength) => {
    // So far that the frame's edge comes in by a share of the width, which the focal length covers again.
    const share = 0.05 * strength;
    const pan = (Math.atan((share * room.width) / room.camera.focalPx) * 180) / Math.PI;
    const zoom = 1 / (1 - 2 * share);
    return [keyAt(room, 0, { pan: -pan, zoom }), keyAt(room, 1, { pan, zoom })];
  },
};
