import type { ReactNode } from 'react';

/** What a ready move does, as a bead on a thread. */
const DRAWN: Readonly<Record<string, ReactNode>> = {
  'push-in': <path d="M10 17V8" />,
  'pull-back': <path d="M10 3v9" />,
  slide: <path d="M3 10h10" />,
  rise: <path d="M4 16c0-6 3-9 8-9" />,
  arc: <path d="M3 8c3 7 11 7 13 0" />,
  breathe: <path d="M7 16V8M12 5v8" />,
  'opposite-zoom': <path d="M10 17v-7M4 4l4 3M16 4l-4 3" />,
  drift: <path d="M3 13c4 0 4-5 7-5s2 3 5 2" />,
  'look-round': <path d="M10 16L4 6M10 16l6-10" />,
};
const BEADS: Readonly<Record<string, readonly (readonly [number, number])[]>> = {
  'push-in': [[10, 5]],
  'pull-back': [[10, 15]],
  slide: [[16, 10]],
  rise: [[15, 7]],
  arc: [[16, 7]],
  breathe: [
    [7, 5],
    [12, 15],
  ],
  'opposite-zoom': [[10, 8]],
  drift: [[16, 9]],
  'look-round': [[10, 15]],
};

export function MoveGlyph({ kind }: { kind: string }) {
  return (
    <svg className="ct-glyph" width={20} height={20} viewBox="0 0 20 20" aria-hidden>
      {DRAWN[kind]}
      {BEADS[kind]?.map(([x, y]) => (
        <circle key={`${x} ${y}`} cx={x} cy={y} r={2.6} />
      ))}
    </svg>
  );
}
