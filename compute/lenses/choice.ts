import type { Choice } from '@/core/matte/choice';
import { drawChoice } from '../draw/choice';
import { hatchUnsure } from '../draw/unsure';
import type { Chosen, Layer } from '../layer/layer';
import type { DepthOver, FlatWay } from '../look';
import { flat, roomFor, type Lens } from './lens';
import { drawSource } from './source';

/** What is being chosen, over the source. */
export interface ChoiceAsk extends DepthOver, Chosen {
  readonly lens: 'choice';
  readonly way: FlatWay;
  readonly choice: Choice;
  /** Where it is unsure is hatched. */
  readonly unsure: boolean;
  /** What is not chosen is not set back. @default false */
  readonly open?: boolean;
}

/** In the window in detail a choice may hold none of its strokes or seeds: it is taken from the whole picture. */
export function lendChoice(
  whole: Layer,
  detail: Layer,
  { choice, spare, active, unsure = false }: Chosen & { readonly unsure?: boolean },
): void {
  if (!choice) return;
  const { matte, pending } = whole.choosing;
  detail.choosing.borrow(
    { choice, others: whole.others(spare, active), matte, unsure: unsure ? whole.unsure() : undefined },
    whole.place,
    `${pending ? 'quick' : 'solved'} ${unsure}`,
  );
}

export const choice: Lens<ChoiceAsk> = {
  key: 'choice',
  touches: true,
  draw(layer, asked, rect = layer.whole) {
    const { ask } = asked;
    const data = roomFor(rect);
    drawSource(layer, asked, rect, data);
    const chosen = layer.chosenOf(ask);
    if (chosen) drawChoice(chosen, rect, data, !ask.open);
    const unsure = chosen && ask.unsure ? layer.unsure() : undefined;
    if (unsure) hatchUnsure(unsure, rect, data);
    return flat(layer, rect, data);
  },
  lend: (whole, detail, { ask }) => {
    lendChoice(whole, detail, ask);
  },
};
