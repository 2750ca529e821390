import type { Size } from '../../kind';
import type { MarkStroke } from './markStroke';
import type { Relation } from './regress';
import type { Mark } from './samples';

/**
 * The pixels of marks that were drawn as strokes, and their relations. A mark that lies beside the picture has none and is left out,
 * with the relations to it.
 * @param scale px of the picture per full-size px
 */
export function drawnMarks(
  strokes: readonly MarkStroke[],
  size: Size,
  scale: number,
): { readonly marks: Mark[]; readonly relations: Relation[] } {
  const marks: Mark[] = [];
  const numbers = new Map<string, number>();
  for (const stroke of strokes) {
    const pixels = pixelsOf(stroke, size, scale);
    if (pixels.length === 0) continue;
    numbers.set(stroke.id, marks.length);
    marks.push({ pixels, ...(stroke.says.kind === 'depth' ? { depth: stroke.says.depth } : {}) });
  }
  const relations = strokes.flatMap(({ id, says }): Relation[] => {
    if (says.kind === 'depth') return [];
    const mark = numbers.get(id);
    const than = numbers.get(says.as);
    if (mark === undefined || than === undefined || mark === than) return [];
    return [says.kind === 'same' ? { kind: 'same', mark, than } : { kind: 'nearer', mark, than, by: says.by }];
  });
  return { marks, relations };
}

/** The pixels whose middles lie within half a stroke's width of its line; at least those that the line goes through. */
function pixelsOf({ points, width: wide }: MarkStroke, { width, height }: Size, scale: number): number[] {
  const reach = Math.max(0.71, (wide / 2) * scale);
  const pixels = new Set<number>();
  const at = points.map(({ x, y }) => ({ x: x * scale, y: y * scale }));
  for (let n = 0; n < at.length; n++) {
    const a = at[Math.max(0, n - 1)];
    const b = at[n];
    const [dx, dy] = [b.x - a.x, b.y - a.y];
    const long = dx * dx + dy * dy;
    const top = Math.max(0, Math.floor(Math.min(a.y, b.y) - reach));
    const bottom = Math.min(height - 1, Math.ceil(Math.max(a.y, b.y) + reach));
    const left = Math.max(0, Math.floor(Math.min(a.x, b.x) - reach));
    const right = Math.min(width - 1, Math.ceil(Math.max(a.x, b.x) + reach));
    for (let y = top; y <= bottom; y++)
      for (let x = left; x <= right; x++) {
        const [px, py] = [x + 0.5 - a.x, y + 0.5 - a.y];
        const t = long > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / long)) : 0;
        if ((px - t * dx) ** 2 + (py - t * dy) ** 2 <= reach * reach) pixels.add(y * width + x);
      }
  }
  return [...pixels];
}
