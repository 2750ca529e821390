/** Where time lies in the strip: from the first frame to the last, css px. */
export interface Ruler {
  readonly left: number;
  readonly right: number;
  readonly frames: number;
}

export const xOf = ({ left, right, frames }: Ruler, frame: number): number =>
  left + ((right - left) * frame) / Math.max(1, frames - 1);

export const frameOf = ({ left, right, frames }: Ruler, x: number): number =>
  Math.min(frames - 1, Math.max(0, Math.round(((x - left) / (right - left)) * (frames - 1))));

/** Steps in which frames are written, so that figures keep at least so far apart, css px. */
const APART = 40;
const STEPS = [1, 2, 5, 6, 12, 24, 48, 60, 120, 240, 480, 960];

/** How many frames lie between two figures. */
export function figureStep(ruler: Ruler): number {
  const perFrame = (ruler.right - ruler.left) / Math.max(1, ruler.frames - 1);
  return STEPS.find((step) => step * perFrame >= APART) ?? STEPS[STEPS.length - 1];
}
