import { isSequence, sequenceName } from './sequence';

const named = (...names: string[]) => names.map((name) => ({ name }));

test('pictures whose names differ by a number alone may be frames of one film', () => {
  const frames = Array.from({ length: 6 }, (_, n) => `shot 3_take.${String(n + 8).padStart(4, '0')}.png`);
  expect(isSequence(named(...frames))).toBe(true);
  expect(sequenceName(named(...frames))).toBe('shot 3_take');
  expect(isSequence(named(...frames.slice(0, 4)))).toBe(false);
  expect(isSequence(named(...frames, 'other_0001.png'))).toBe(false);
  expect(isSequence(named('a1.png', 'a2.png', 'a3.jpg', 'a4.png', 'a5.png'))).toBe(false);
  expect(isSequence(named('1.mp4', '2.mp4', '3.mp4', '4.mp4', '5.mp4'))).toBe(false);
  expect(sequenceName(named('0001.png'))).toBe('Sequence');
});
