import { poseAt } from '@/core/camera/move';
import type { CameraKey, MovePart } from '@/core/shot/document';

type Value = CameraKey['value'];

/** One value of the camera over time, as its curve shows it. */
export interface Channel {
  readonly key: string;
  readonly name: string;
  readonly unit: string;
  readonly decimals: number;
  /** The least and the most that a bead may hold. */
  readonly limits: readonly [number, number];
  /** What the camera has at a frame. */
  at(move: MovePart, frame: number): number;
  /** A bead's own value. */
  own(value: Value): number;
  /** A bead with another value. */
  with(value: Value, v: number): Value;
}

const place = (key: string, name: string, n: 0 | 1 | 2): Channel => ({
  key,
  name,
  unit: 'm',
  decimals: 2,
  limits: [-1e5, 1e5],
  at: (move, frame) => poseAt(move, frame).position[n],
  own: (value) => value.position[n],
  with: (value, v) => ({ ...value, position: value.position.map((p, i) => (i === n ? v : p)) as Value['position'] }),
});
const turn = (key: 'pan' | 'tilt' | 'roll', name: string): Channel => ({
  key,
  name,
  unit: 'deg',
  decimals: 1,
  limits: [-720, 720],
  at: (move, frame) => poseAt(move, frame)[key],
  own: (value) => value[key],
  with: (value, v) => ({ ...value, [key]: v }),
});

export const CHANNELS: readonly Channel[] = [
  place('right', 'Right', 0),
  place('up', 'Up', 1),
  place('forward', 'Forward', 2),
  turn('pan', 'Pan'),
  turn('tilt', 'Tilt'),
  turn('roll', 'Roll'),
  {
    key: 'zoom',
    name: 'Zoom',
    unit: '×',
    decimals: 2,
    limits: [0.05, 20],
    at: (move, frame) => poseAt(move, frame).zoom,
    own: (value) => value.zoom,
    with: (value, zoom) => ({ ...value, zoom }),
  },
];

/** The values that a scale shows: round, about so many, around what there is. */
export function scaleOf(
  low: number,
  high: number,
  count: number,
): { readonly from: number; readonly to: number; readonly step: number } {
  const spread = high - low > 1e-9 ? high - low : Math.max(0.1, Math.abs(high) * 0.2);
  const power = 10 ** Math.floor(Math.log10(spread / count));
  const step = [1, 2, 5, 10].map((n) => n * power).find((s) => spread / s <= count)!;
  const from = Math.floor(low / step + 1e-9) * step;
  const to = Math.max(from + step, Math.ceil(high / step - 1e-9) * step);
  return { from, to, step };
}

/** The channel whose values change most, by what its scale tells apart: with that a curve opens. */
export function liveliest(move: MovePart): Channel {
  const worth = (c: Channel): number => {
    const values = Array.from({ length: 25 }, (_, n) => c.at(move, ((move.frames - 1) * n) / 24));
    return (Math.max(...values) - Math.min(...values)) * 10 ** c.decimals;
  };
  return CHANNELS.reduce((best, c) => (worth(c) > worth(best) ? c : best));
}
