import { blurPlane } from '../../raster/blurPlane';
import { byRegion, ranked, type StartLook } from './startLook';

const COLOURS = 5;
const TURNS = 12;
/** The border is a band so wide, of the shorter side. */
const BAND = 1 / 12;

/** The middle differs so many times more from the border's colours than the border itself: from where on saliency says something, and where it says all. */
const FROM = 1.1;
const FULLY = 1.7;

export interface Saliency {
  /** What differs from the colours of the picture's border, by region: 0 like it to 1. */
  readonly plane: Float32Array;
  /** How far that speaks of depth, 0 to 1: only where something stands out in the middle. */
  readonly gate: number;
}

/** What stands out from the picture's border. */
export function saliency({ width, height, lab, regions }: StartLook): Saliency {
  const band = Math.max(1, Math.round(Math.min(width, height) * BAND));
  const border: number[] = [];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (Math.min(x, y, width - 1 - x, height - 1 - y) < band) border.push(y * width + x);
  const colours = borderColours(lab, border);
  const far = new Float32Array(width * height);
  for (let i = 0; i < far.length; i++) far[i] = Math.sqrt(nearestColour(lab, i, colours).squared);
  const atBorder = border.reduce((sum, i) => sum + far[i], 0) / border.length;
  const all = far.reduce((sum, v) => sum + v, 0);
  const inside = (all - atBorder * border.length) / Math.max(1, far.length - border.length);
  return {
    plane: byRegion(ranked(blurPlane(far, width, height, Math.max(0.5, height / 60))), regions),
    gate: Math.min(1, Math.max(0, (inside / Math.max(1e-3, atBorder) - FROM) / (FULLY - FROM))),
  };
}

type Colour = readonly [number, number, number];

/** A few colours that stand for all of some places (k-means; the first ones as far from each other as can be). */
function borderColours(lab: Float32Array, places: readonly number[]): Colour[] {
  const colours: Colour[] = [meanOf(lab, places)];
  while (colours.length < COLOURS) {
    let [best, most] = [places[0], -1];
    for (const i of places) {
      const { squared } = nearestColour(lab, i, colours);
      if (squared > most) [best, most] = [i, squared];
    }
    colours.push([lab[best * 3], lab[best * 3 + 1], lab[best * 3 + 2]]);
  }
  for (let turn = 0; turn < TURNS; turn++) {
    const groups: number[][] = colours.map(() => []);
    for (const i of places) groups[nearestColour(lab, i, colours).which].push(i);
    groups.forEach((group, n) => {
      if (group.length > 0) colours[n] = meanOf(lab, group);
    });
  }
  return colours;
}

function meanOf(lab: Float32Array, places: readonly number[]): Colour {
  const sum = [0, 0, 0];
  for (const i of places) for (let c = 0; c < 3; c++) sum[c] += lab[i * 3 + c];
  return [sum[0] / places.length, sum[1] / places.length, sum[2] / places.length];
}

function nearestColour(
  lab: Float32Array,
  i: number,
  colours: readonly Colour[],
): { readonly which: number; readonly squared: number } {
  let [which, squared] = [0, Infinity];
  colours.forEach(([l, a, b], n) => {
    const d = (lab[i * 3] - l) ** 2 + (lab[i * 3 + 1] - a) ** 2 + (lab[i * 3 + 2] - b) ** 2;
    if (d < squared) [which, squared] = [n, d];
  });
  return { which, squared };
}
