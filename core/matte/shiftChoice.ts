import type { Choice } from './choice';

/** A choice on a canvas that has grown: every place moved by so many px. */
export function shiftChoice(choice: Choice, dx: number, dy: number): Choice {
  const move = <T extends { readonly x: number; readonly y: number }>(p: T): T => ({ ...p, x: p.x + dx, y: p.y + dy });
  const ingredients = choice.ingredients.map((one): Choice['ingredients'][number] => {
    switch (one.kind) {
      case 'outline':
      case 'trace':
        return { ...one, points: one.points.map(move) };
      case 'curve':
        return {
          ...one,
          nodes: one.nodes.map((n) => ({
            x: n.x + dx,
            y: n.y + dy,
            inX: n.inX + dx,
            inY: n.inY + dy,
            outX: n.outX + dx,
            outY: n.outY + dy,
          })),
        };
      case 'pieces':
        return { ...one, rings: one.rings.map((ring) => ring.map(move)) };
      case 'region':
        return { ...one, strokes: one.strokes.map((s) => ({ ...s, points: s.points.map(move) })) };
      case 'flood':
        return move(one);
      case 'slice':
        return one;
    }
  });
  return {
    ingredients,
    edge: { ...choice.edge, unsure: choice.edge.unsure.map((s) => ({ ...s, points: s.points.map(move) })) },
  };
}
