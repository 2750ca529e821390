import { HandFill } from '@/core/fill/handFill';
import type { ShotDocument } from '@/core/shot/document';
import { Problem } from '../http/problem';
import { inThread } from '../threads/pool';
import { layoutOf } from './layout';
import { plateOf, requireCut } from './plateList';
import { paintedOf } from './platePixels';

/** A plate opened for filling by hand: over the whole canvas, with what was filled in and painted on it so far. */
export interface OpenGround {
  readonly hand: HandFill;
  /** True where nearer plates hide any of it. */
  readonly hides: boolean;
}

interface Kept {
  readonly layout: string;
  readonly id: string | null;
  fill: string | null;
  overpaint: string | null;
  readonly open: OpenGround;
  readonly timer: NodeJS.Timeout;
}

/** The last plate that was opened, so that the next stroke is quick. Forgotten after a minute. */
const kept = globalThis as typeof globalThis & { corkGround?: Kept };
/** Strokes work in place on what is kept, so they go one after another. */
let turn: Promise<unknown> = Promise.resolve();
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = turn.then(work);
  turn = done.catch(() => undefined);
  return done;
}

const KEPT_MS = 60_000;
/** Larger pictures are opened anew each time: they would hold too much memory. */
const KEPT_PIXELS = 25_000_000;

/** @throws Problem `nothing-hidden` where no nearer plate hides any of it, unless it may be painted `beyond`; `brought-in` */
export async function openGround(
  document: ShotDocument,
  id: string | null,
  { name, beyond }: { readonly name: string; readonly beyond: boolean },
): Promise<OpenGround> {
  if (id !== null) requireCut(plateOf(document, id));
  const open = await opened(document, id);
  if (!beyond && !open.hides)
    throw new Problem(
      422,
      'nothing-hidden',
      `Nothing hides ${name}: no nearer plate was cut before it, so there is nothing to fill.`,
    );
  return open;
}

async function opened(document: ShotDocument, id: string | null): Promise<OpenGround> {
  const layout = layoutOf(document);
  const { fill, overpaint } = paintedOf(document, id);
  const known = kept.corkGround;
  if (known?.layout === layout && known.id === id && known.fill === fill && known.overpaint === overpaint)
    return known.open;
  const made = await inThread('openGround', { document, plate: id });
  const open: OpenGround = {
    hand: new HandFill(made.bare, made, { picture: made.picture }),
    hides: made.bare.hidden.data.some((v) => v > 0),
  };
  dropGround();
  const { width, height } = document.source;
  if (width * height <= KEPT_PIXELS)
    kept.corkGround = { layout, id, fill, overpaint, open, timer: setTimeout(dropGround, KEPT_MS).unref() };
  return open;
}

/** An opened plate goes on from what was just stored of it. */
export function keepGround(
  open: OpenGround,
  stored: { readonly fill: string | null; readonly overpaint: string | null },
): void {
  const known = kept.corkGround;
  if (known?.open !== open) return;
  known.fill = stored.fill;
  known.overpaint = stored.overpaint;
  known.timer.refresh();
}

/** Forgets the opened plate: what was painted on it was not stored, or it has rested. */
export function dropGround(): void {
  if (kept.corkGround) clearTimeout(kept.corkGround.timer);
  delete kept.corkGround;
}
