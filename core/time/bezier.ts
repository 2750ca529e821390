/** The two inner points of an ease; its ends are (0, 0) and (1, 1). x lie between 0 and 1. */
export type Bezier = readonly [x1: number, y1: number, x2: number, y2: number];

/**
 * How far something has come at a share of its time.
 * Source: cubic-bezier, CSS Easing Functions Level 1, W3C 2023, section 2.2.
 *
 * @param time 0 to 1
 */
export function bezierAt([x1, y1, x2, y2]: Bezier, time: number): number {
  if (time <= 0) return 0;
  if (time >= 1) return 1;
  const at = (a: number, b: number, s: number): number => 3 * s * (1 - s) ** 2 * a + 3 * s * s * (1 - s) * b + s ** 3;
  // x grows with s: halving always finds it, to a double's last bits.
  let low = 0;
  let high = 1;
  for (let n = 0; n < 54; n++) {
    const middle = (low + high) / 2;
    if (at(x1, x2, middle) < time) low = middle;
    else high = middle;
  }
  return at(y1, y2, (low + high) / 2);
}
