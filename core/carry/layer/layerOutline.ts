import type { Choice } from '../../matte/choice';
import { drawnAlike, pointsOf, withPoints } from '../../matte/choicePoints';
import { toFullSize, toRaster, type Place, type Point } from '../../raster/geometry';
import { goneTo, type PlacedLayer } from './placedLayer';

/**
 * The outlines of a cut-out where it was found: every point of the key's moved along with it. Where another key's are
 * drawn alike, each point runs from the one to the other, so that both keys are met whatever it did between them.
 * @param place what the frames show of the full size in which choices are drawn
 * @param choiceOf a key's choice; undefined where it has none that is nothing but outlines
 */
export function layerOutline(
  placed: readonly PlacedLayer[],
  place: Place,
  choiceOf: (key: number) => Choice | undefined,
): Choice | undefined {
  const drawn = placed.flatMap((p) => {
    const choice = choiceOf(p.key);
    return choice ? [{ placed: p, choice }] : [];
  });
  if (drawn.length === 0) return undefined;
  const nearest = drawn.reduce((a, b) => (b.placed.near > a.placed.near ? b : a));
  const alike = drawn.filter(({ choice }) => drawnAlike(choice, nearest.choice));
  const moved = alike.map(({ placed: p, choice }) => ({ near: p.near, points: movedPoints(p, place, choice) }));
  const all = moved.reduce((sum, { near }) => sum + near, 0);
  const points = moved[0].points.map((_, n): Point => {
    let [x, y] = [0, 0];
    for (const { near, points: from } of moved) {
      x += (near / all) * from[n].x;
      y += (near / all) * from[n].y;
    }
    return { x, y };
  });
  return withPoints(nearest.choice, points);
}

/** Points of the full size, moved as the layer is in the frames. */
function movedPoints(placed: PlacedLayer, place: Place, choice: Choice): Point[] {
  const out = new Float64Array(2);
  return pointsOf(choice).map((at) => {
    // Drawn places count from pixels' corners, a layer's from their middles.
    const { x, y } = toRaster(at, place);
    goneTo(placed, x - 0.5, y - 0.5, out);
    return toFullSize({ x: out[0] + 0.5, y: out[1] + 0.5 }, place);
  });
}
