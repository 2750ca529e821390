import type { MarkStroke } from '@/core/depth/marks/markStroke';
import { figure } from '../../numbers';

/** What a mark is called: its name, or its number. */
export const markName = (marks: readonly MarkStroke[], id: string | undefined): string => {
  const n = marks.findIndex((mark) => mark.id === id);
  return n < 0 ? 'a mark that is gone' : marks[n].name || `Mark ${n + 1}`;
};

/** What a mark says, in few words. */
export function markSays(marks: readonly MarkStroke[], { says }: MarkStroke): string {
  if (says.kind === 'depth') return figure(says.depth, 2);
  const other = markName(marks, says.as);
  return says.kind === 'same' ? `as ${other}` : `before ${other}`;
}

/**
 * The grey of a mark: of its depth, or of the mark that it stands to; so many steps at most, as marks may stand to each
 * other in a ring.
 */
export function markGrey(marks: readonly MarkStroke[], mark: MarkStroke): number {
  let at: MarkStroke | undefined = mark;
  for (let n = 0; n < marks.length && at; n++) {
    const { says }: MarkStroke = at;
    if (says.kind === 'depth') return Math.round(says.depth * 255);
    at = marks.find(({ id }) => id === says.as);
  }
  return 128;
}
