import type { Point } from '../raster/geometry';
import type { Choice } from './choice';
import type { Ingredient } from './ingredients';

type Drawn = Extract<Ingredient, { kind: 'outline' | 'trace' | 'curve' }>;

const isDrawn = (value: Ingredient): value is Drawn =>
  value.kind === 'outline' || value.kind === 'trace' || value.kind === 'curve';

/** True for a choice that is nothing but outlines: it can be moved point by point. */
export const isOutlined = ({ ingredients }: Choice): boolean => ingredients.every(isDrawn);

/** Every point of an outlined choice in its order, handles and strokes over its edge among them. */
export function pointsOf({ ingredients, edge }: Choice): Point[] {
  const drawn = ingredients
    .filter(isDrawn)
    .flatMap((value): readonly Point[] =>
      value.kind === 'curve'
        ? value.nodes.flatMap((n) => [n, { x: n.inX, y: n.inY }, { x: n.outX, y: n.outY }])
        : value.points,
    );
  return [...drawn, ...edge.unsure.flatMap(({ points }) => points)].map(({ x, y }) => ({ x, y }));
}

/** The same choice with its points elsewhere. @param points as many as `pointsOf` gives, in its order */
export function withPoints(choice: Choice, points: readonly Point[]): Choice {
  let at = 0;
  const next = (): Point => points[at++];
  const ingredients = choice.ingredients.map((value): Ingredient => {
    if (!isDrawn(value)) return value;
    if (value.kind !== 'curve') return { ...value, points: value.points.map(next) };
    const nodes = value.nodes.map(() => {
      const [here, into, out] = [next(), next(), next()];
      return { ...here, inX: into.x, inY: into.y, outX: out.x, outY: out.y };
    });
    return { ...value, nodes };
  });
  const unsure = choice.edge.unsure.map((stroke) => ({ ...stroke, points: stroke.points.map(next) }));
  return { ingredients, edge: { ...choice.edge, unsure } };
}

/** True where two choices are drawn alike: one's points are the other's, moved. */
export const drawnAlike = (a: Choice, b: Choice): boolean => shapeOf(a) === shapeOf(b);

const shapeOf = (choice: Choice): string =>
  JSON.stringify(
    withPoints(
      choice,
      pointsOf(choice).map(() => ({ x: 0, y: 0 })),
    ),
  );
