import type { ShotRasters } from '@/core/shot/rasters';
import { plateGround, type PlateGround } from '@/core/fill/plateGround';
import { HandFill } from '@/core/fill/handFill';
import { emptyPicture, type Picture } from '@/core/raster/picture';
import type { ShotDocument } from '@/core/shot/document';
import { database } from '../db/orm';
import { Problem } from '../http/problem';
import { sourceRaster } from '../media/decode';
import { readStoredPicture } from '../rasters/pictures';
import { layOutInThread } from '../threads/pool';
import { plateOf } from './plateList';
import { storedPlates } from './platePixels';

/** A plate opened for filling: over the whole canvas, with what was filled in and painted on it so far. */
export interface OpenGround {
  readonly rasters: ShotRasters<Picture>;
  readonly ground: PlateGround<Picture>;
  readonly hand: HandFill;
}

interface Kept {
  readonly layout: string;
  readonly rasters: ShotRasters<Picture>;
  readonly timer: NodeJS.Timeout;
  plate?: { readonly id: string | null; fill: string | null; overpaint: string | null; readonly open: OpenGround };
}

/** The last shot that was laid out, and the plate that was opened in it, so that the next stroke is quick. Forgotten after a minute. */
const kept = globalThis as typeof globalThis & { corkGround?: Kept };
/** Strokes work in place on what is kept, so they go one after another. */
let turn: Promise<unknown> = Promise.resolve();
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const done = turn.then(work);
  turn = done.catch(() => undefined);
  return done;
}

/** Larger pictures are opened anew each time: they would hold too much memory. */
const KEPT_PIXELS = 16_000_000;

/** Which stored pictures a plate (null: the back plate) is painted with. */
export const paintedOf = (
  document: ShotDocument,
  id: string | null,
): { readonly fill: string | null; readonly overpaint: string | null } =>
  id === null ? document : plateOf(document, id);

/** @throws Problem `nothing-hidden` where no nearer plate hides any of it, unless it may be painted `beyond`; `brought-in` */
export async function openGround(
  document: ShotDocument,
  id: string | null,
  name: string,
  beyond: boolean,
): Promise<OpenGround> {
  if (id !== null && plateOf(document, id).piece)
    throw new Problem(422, 'brought-in', `${name} was brought in: it is whole, and not filled or painted on here.`);
  const { source } = document;
  const { rasters } = await laidOut(document);
  const { fill, overpaint } = paintedOf(document, id);
  const known = kept.corkGround?.plate;
  if (kept.corkGround?.rasters === rasters && known?.id === id && known.fill === fill && known.overpaint === overpaint)
    return known.open;
  const base = plateGround(rasters, id);
  if (!base || (!beyond && !base.hidden.data.some((v) => v > 0)))
    throw new Problem(
      422,
      'nothing-hidden',
      `Nothing hides ${name}: no nearer plate was cut before it, so there is nothing to fill.`,
    );
  const em = await database();
  const stored = async (revision: string | null): Promise<Picture> =>
    revision === null
      ? emptyPicture(rasters.picture, source.width, source.height)
      : readStoredPicture(em, revision, source.bits);
  const hand = new HandFill(base, await stored(fill), await stored(overpaint));
  const open: OpenGround = { rasters, ground: { ...base, picture: hand.picture }, hand };
  if (kept.corkGround?.rasters === rasters) kept.corkGround.plate = { id, fill, overpaint, open };
  return open;
}

/** An opened plate goes on from what was just stored of it. */
export function keepGround(
  open: OpenGround,
  stored: { readonly fill: string | null; readonly overpaint: string | null },
): void {
  const { plate } = kept.corkGround ?? {};
  if (plate?.open === open) {
    plate.fill = stored.fill;
    plate.overpaint = stored.overpaint;
  }
}

/** What was painted on an opened plate was not stored: it is opened anew the next time. */
export function dropGround(): void {
  delete kept.corkGround?.plate;
}

/** A shot laid out without what was filled in and painted. */
async function laidOut(document: ShotDocument): Promise<{ rasters: ShotRasters<Picture> }> {
  const bare: ShotDocument = {
    ...document,
    fill: null,
    overpaint: null,
    plates: document.plates.map((p) => ({ ...p, fill: null, overpaint: null })),
  };
  const { source } = bare;
  const layout = JSON.stringify([
    source.mediaId,
    bare.depth,
    bare.holePx,
    bare.plates.map((p) => [p.id, p.matte, p.depth, p.piece]),
  ]);
  if (kept.corkGround?.layout === layout) return kept.corkGround;
  const rasters = await layOutInThread({
    raster: await sourceRaster(source),
    bits: source.bits,
    ...(await storedPlates(bare)),
  });
  if (kept.corkGround) clearTimeout(kept.corkGround.timer);
  delete kept.corkGround;
  if (source.width * source.height <= KEPT_PIXELS)
    kept.corkGround = {
      layout,
      rasters,
      timer: setTimeout(() => {
        delete kept.corkGround;
      }, 60_000).unref(),
    };
  return { rasters };
}
