import type { LayerPlace, LayerPlate, Painted8 } from './layer/place';
import { premultiply } from '@/core/raster/alpha';
import { narrowed } from '@/core/raster/bits';
import type { Picture8 } from '@/core/raster/picture';
import type { Layer } from './layer/layer';
import { PlacedPiece, type FetchedPiece } from './layer/pieces';
import type { PieceName, RasterNames } from './ways';

export interface Shot {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

interface Opened {
  readonly picture: Picture8;
  readonly depth: Uint16Array;
  readonly plates: LayerPlate[];
  readonly painted: Painted8;
  readonly behind?: Uint16Array;
}

/** Fetches what a layer needs; rasters that an earlier layer of the same place holds in the same revision are taken from it. */
export async function openRasters(
  shot: Shot,
  place: LayerPlace,
  names: RasterNames,
  held?: { readonly names: RasterNames; readonly layer: Layer },
): Promise<Opened> {
  const size = sizeOf(place);
  const one = async (revision: string, matte: boolean, known: Uint16Array | undefined): Promise<Uint16Array> =>
    known ?? fetchRaster(shot, place, revision, matte);
  const painted = async (
    next: { readonly fill: string | null; readonly overpaint: string | null },
    was: typeof next | undefined,
    have: Painted8 | undefined,
  ): Promise<Painted8> => {
    const picture = async (what: 'fill' | 'overpaint'): Promise<Painted8> => {
      const revision = next[what];
      return revision === null
        ? {}
        : { [what]: (was?.[what] === revision && have?.[what]) || (await fetchPainted(shot, place, revision)) };
    };
    return { ...(await picture('fill')), ...(await picture('overpaint')) };
  };
  const [picture, depth, behind, back, ...plates] = await Promise.all([
    held ? held.layer.picture : fetchPicture(shot, place),
    one(names.depth, false, held?.names.depth === names.depth ? held.layer.depth.data : undefined),
    names.behind === null
      ? undefined
      : one(names.behind, false, held?.names.behind === names.behind ? held.layer.behind?.data : undefined),
    painted(names, held?.names, held?.layer.painted),
    ...names.plates.map(async (name): Promise<LayerPlate> => {
      const was = held?.names.plates.find((p) => p.id === name.id);
      const have = held?.layer.plates.find((p) => p.id === name.id);
      const values =
        was?.matte === name.matte && have
          ? have.matte.data
          : narrowed(await fetchRaster(shot, place, name.matte, true));
      return {
        id: name.id,
        painted: await painted(name, was, have?.painted),
        ...(name.piece ? { piece: new PlacedPiece(await fetchPiece(shot, name.id, name.piece)) } : {}),
        matte: { ...size, data: values },
        depth: {
          ...size,
          data: await one(name.depth, false, was?.depth === name.depth ? have?.depth.data : undefined),
        },
      };
    }),
  ]);
  return { picture, depth, plates, painted: back, ...(behind ? { behind } : {}) };
}

function sizeOf(place: LayerPlace): { width: number; height: number } {
  return {
    width: Math.max(1, Math.round((place.right - place.left) * place.scale)),
    height: Math.max(1, Math.round((place.bottom - place.top) * place.scale)),
  };
}

function query(place: LayerPlace): string {
  const { width, height } = sizeOf(place);
  return new URLSearchParams(
    Object.entries({ left: place.left, top: place.top, right: place.right, bottom: place.bottom, width, height }).map(
      ([k, v]) => [k, String(v)],
    ),
  ).toString();
}

async function get(path: string): Promise<Response> {
  const answer = await fetch(path);
  if (!answer.ok)
    throw new Error(
      ((await answer.json().catch(() => undefined)) as { title?: string } | undefined)?.title ??
        `The server answered ${answer.status}.`,
    );
  return answer;
}

/** The source in a window, premultiplied. */
async function fetchPicture(shot: Shot, place: LayerPlace): Promise<Picture8> {
  const picture = await decode(await (await get(`/api/shots/${shot.id}/picture?${query(place)}`)).blob());
  for (let i = 3; i < picture.data.length; i += 4)
    if (picture.data[i] !== 255) {
      premultiply(picture);
      break;
    }
  return picture;
}

async function decode(blob: Blob): Promise<Picture8> {
  const bitmap = await createImageBitmap(blob, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { width, height, data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  return { width, height, data };
}

/** Longest side of a brought-in picture in the preview, px. */
const PIECE_SIDE = 2048;
const pieces = new Map<string, Promise<FetchedPiece>>();

/** A brought-in plate's picture; stored ones never change. */
function fetchPiece(shot: Shot, plate: string, { mediaId, width }: PieceName): Promise<FetchedPiece> {
  let found = pieces.get(mediaId);
  if (!found) {
    found = get(`/api/shots/${shot.id}/plates/piece?plate=${plate}&media=${mediaId}&side=${PIECE_SIDE}`).then(
      async (answer) => ({ picture: await decode(await answer.blob()), fullWidth: width }),
    );
    found.catch(() => {
      pieces.delete(mediaId);
    });
    pieces.set(mediaId, found);
  }
  return found;
}

/** What was filled in or painted, in a window, straight alpha. */
async function fetchPainted(shot: Shot, place: LayerPlace, revision: string): Promise<Picture8> {
  return decode(await (await get(`/api/shots/${shot.id}/fill?revision=${revision}&${query(place)}`)).blob());
}

async function fetchRaster(shot: Shot, place: LayerPlace, revision: string, matte: boolean): Promise<Uint16Array> {
  const packed = (
    await get(`/api/shots/${shot.id}/depth?revision=${revision}&${query(place)}${matte ? '&as=matte' : ''}`)
  ).body!;
  return new Uint16Array(await new Response(packed.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer());
}
