import { BEGIN_MOVE } from '../slice';
import { CHANNELS, liveliest, scaleOf } from './channels';

const [right, , forward, pan] = CHANNELS;
const stand = BEGIN_MOVE.keys[0];
const move = {
  ...BEGIN_MOVE,
  path: 'straight' as const,
  keys: [
    stand,
    { ...stand, frame: 100, value: { ...stand.value, position: [0.2, 0, 1.5] as [number, number, number], pan: 4 } },
  ],
};

test('a channel is one value of the camera, read and set', () => {
  expect(right.at(move, 100)).toBe(0.2);
  expect(forward.own(move.keys[1].value)).toBe(1.5);
  expect(forward.with(move.keys[1].value, 2).position).toEqual([0.2, 0, 2]);
  expect(pan.with(move.keys[1].value, -3)).toMatchObject({ pan: -3, position: [0.2, 0, 1.5] });
});

test('a curve opens with what changes most', () => {
  expect(liveliest(move).key).toBe('forward');
});

test('a scale is round, and holds all there is', () => {
  expect(scaleOf(-4.2, 3.9, 5)).toEqual({ from: -6, to: 4, step: 2 });
  expect(scaleOf(0, 1.5, 4)).toEqual({ from: 0, to: 1.5, step: 0.5 });
  const flat = scaleOf(1, 1, 4);
  expect(flat.to).toBeGreaterThan(flat.from);
});
