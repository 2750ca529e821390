import type { Move } from '../camera/move';
import type { Reveal } from '../fill/revealMap';
import { pictureOf, type Picture16, type Premultiplied } from '../raster/picture';
import { sceneAt, type Scene } from '../scene/sceneAt';
import { drawnOf } from '../scene/sceneOf';
import type { PlateRaster, ShotRasters } from '../shot/rasters';
import { coarseRows, type CoarseRows, type Rows } from './coarse';
import { movedView, openMove, SEEN } from './openMove';
import { speedAt } from './speed';

/** The part of a move that is looked at. */
export interface MoveLook {
  readonly scene: Scene;
  readonly move: Move;
  readonly first: number;
  readonly last: number;
}

/** About so wide it is looked at, px. */
const WIDTH = 640;
/** Between two moments nothing moves farther than this, px of the source; but so many are enough. */
const STRIDE_PX = 16;
const MOMENTS = 33;
const EYES = [-0.5, 0.5];

/** Moments that tell what a move uncovers: the farther anything moves, the more. */
export function momentsOf({ scene, move, first, last }: MoveLook): number[] {
  let way = 0;
  for (let f = first; f < last; f++) way += speedAt(scene, move, f);
  const count = Math.min(MOMENTS, last - first + 1, Math.ceil(way / STRIDE_PX) + 2);
  return Array.from({ length: count }, (_, n) => first + Math.round(((last - first) * n) / Math.max(1, count - 1)));
}

/**
 * Adds what the eyes that ride on a moving camera uncover to a reveal map; yields the share that is done. Looked at on a coarser
 * grid: what is uncovered is known to its step.
 *
 * The shot is painted with its own places: each pixel says which plate's it is and where on it, so that a moved view says what
 * of which plate it sees.
 * @param scale raster px a px of the source
 */
export function* seeMove(
  reveal: Reveal,
  look: MoveLook,
  rasters: ShotRasters<Premultiplied>,
  scale: number,
): Generator<number, void> {
  const { scene, move } = look;
  const factor = Math.max(1, 2 * Math.round((rasters.picture.width / WIDTH - 1) / 2) + 1);
  const { painted, ids, code } = placesOf(rasters, scene, factor);
  const opened = openMove(painted, { scale: scale / factor, goOn: false, edges: 'as-they-are' });
  const view = movedView(painted.picture, opened.size);
  const { data } = view.picture;
  const moments = momentsOf(look);
  for (const [n, frame] of moments.entries()) {
    const at = sceneAt(scene, move, frame);
    for (const [k, eye] of EYES.entries()) {
      opened.render(at, eye, view);
      for (let i = 0; i < view.state.data.length; i++) {
        if (view.state.data[i] !== SEEN) continue;
        // Between two surfaces colours mix, and say nothing.
        const plate = data[i * 4 + 2] / code.plate;
        const which = Math.round(plate);
        if (Math.abs(plate - which) > 0.01 || which < 1) continue;
        const x = Math.round(data[i * 4] / code.place) * factor;
        const y = Math.round(data[i * 4 + 1] / code.place) * factor;
        reveal.mark(ids[which - 1], { left: x, top: y, right: x + factor, bottom: y + factor });
      }
      yield (n + (k + 1) / EYES.length) / moments.length;
    }
  }
}

/** How places and plates are written as colours. */
interface Code {
  readonly plate: number;
  readonly place: number;
}

/** A shot whose colours are its pixels' own places: red across, green down, blue the plate. */
function placesOf(rasters: ShotRasters<Premultiplied>, scene: Scene, factor: number) {
  const { width, height } = rasters.picture;
  const drawn = drawnOf(scene).flatMap(({ id }) => rasters.plates.filter((p) => p.id === id));
  const ids = [null, ...drawn.map(({ id }) => id)];
  const code: Code = {
    plate: Math.floor(65535 / (ids.length + 1)),
    place: Math.floor(65535 / (Math.max(width, height) / factor + 1)),
  };
  const back = reduced({ top: 0, depth: rasters.depth }, factor, { code, number: 1, covers: () => true });
  const plates = drawn.map((plate, n): PlateRaster<Picture16<'premultiplied'>> => {
    const half = plate.picture.bits === 16 ? 32768 : 128;
    const covers = (i: number): boolean => plate.picture.data[i * 4 + 3] >= half || plate.hidden?.data[i] === 255;
    const made = reduced(plate, factor, { code, number: n + 2, covers });
    return { id: plate.id, columns: { left: 0, right: made.picture.width }, ...made };
  });
  const painted: ShotRasters<Picture16<'premultiplied'>> = { picture: back.picture, depth: back.depth, plates };
  return { painted, ids, code };
}

/** A surface on the coarser grid, painted with its own places where it covers. */
function reduced(
  rows: Rows,
  factor: number,
  { code, number, covers }: { readonly code: Code; readonly number: number; covers(i: number): boolean },
): CoarseRows & { readonly picture: Picture16<'premultiplied'> } {
  const coarse = coarseRows(rows, factor);
  const { width } = coarse.depth;
  const colours = new Uint16Array(coarse.from.length * 4);
  coarse.from.forEach((pixel, n) => {
    if (!covers(pixel)) return;
    colours[n * 4] = (n % width) * code.place;
    colours[n * 4 + 1] = (coarse.top + Math.floor(n / width)) * code.place;
    colours[n * 4 + 2] = number * code.plate;
    colours[n * 4 + 3] = 65535;
  });
  return { ...coarse, picture: pictureOf(coarse.depth, colours, 'premultiplied') };
}
