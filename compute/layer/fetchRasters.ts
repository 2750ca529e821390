import { premultiply } from '@/core/raster/alpha';
import { narrowed } from '@/core/raster/bits';
import { pictureOf, type Premultiplied8, type Straight8 } from '@/core/raster/picture';
import type { PieceName, PlateNames, RasterNames } from '../look';
import { addressesIn, sizeOf } from './addresses';
import { Layer, type LayerHelpers } from './layer';
import { PlacedPiece, type FetchedPiece } from './pieces';
import type { LayerPlace, LayerPlate, Painted8 } from './place';

export interface Shot {
  readonly id: string;
  readonly width: number;
  readonly height: number;
}

/** Which layer is wanted. */
export interface LayerOrder {
  readonly shot: Shot;
  readonly place: LayerPlace;
  readonly names: RasterNames;
  /** A layer of the same place: what it holds in the same revision is taken from it. */
  readonly held?: { readonly names: RasterNames; readonly layer: Layer };
}

/** Fetches a layer. */
export async function openLayer(order: LayerOrder, helpers: LayerHelpers): Promise<Layer> {
  const { place, names, held } = order;
  const [picture, depth, behind, painted, ...plates] = await Promise.all([
    held && held.names.moment === names.moment ? held.layer.picture : fetchPicture(order),
    held?.names.depth === names.depth ? held.layer.depth.data : fetchRaster(order, names.depth),
    behindOf(order),
    paintedOf(order, names, held && { names: held.names, painted: held.layer.painted }),
    ...names.plates.map((plate) => plateOf(order, plate)),
  ]);
  const layer = new Layer({ place, picture, depth, plates, painted, ...(behind ? { behind } : {}) }, helpers);
  if (held && JSON.stringify(bareNames(held.names)) === JSON.stringify(bareNames(names))) layer.inherit(held.layer);
  return layer;
}

/** What decides how plates are laid out: everything but what was put on them. */
const bareNames = ({ moment, depth, behind, plates }: RasterNames): object => ({
  moment,
  depth,
  behind,
  plates: plates.map((p) => [p.id, p.matte, p.depth, p.piece]),
});

function behindOf(order: LayerOrder): Promise<Uint16Array> | Uint16Array | undefined {
  const { names, held } = order;
  if (names.behind === null) return undefined;
  const known = held?.names.behind === names.behind ? held.layer.behind?.data : undefined;
  return known ?? fetchRaster(order, names.behind);
}

async function plateOf(order: LayerOrder, name: PlateNames): Promise<LayerPlate> {
  const { held, place } = order;
  const size = sizeOf(place);
  const was = held?.names.plates.find((p) => p.id === name.id);
  const have = was && held?.layer.plates.find((p) => p.id === name.id);
  const sameMatte = have !== undefined && was?.matte === name.matte;
  const sameDepth = have !== undefined && was?.depth === name.depth;
  const [matte, depth, painted, piece] = await Promise.all([
    sameMatte ? have.matte.data : fetchRaster(order, name.matte, 'matte').then(narrowed),
    sameDepth ? have.depth.data : fetchRaster(order, name.depth),
    paintedOf(order, name, have && was && { names: was, painted: have.painted ?? {} }),
    name.piece ? fetchPiece(order.shot, name.id, name.piece) : undefined,
  ]);
  return {
    id: name.id,
    painted,
    ...(piece ? { piece: new PlacedPiece(piece) } : {}),
    matte: { ...size, data: matte },
    depth: { ...size, data: depth },
  };
}

type PaintedNames = Pick<PlateNames, 'fill' | 'overpaint'>;

/** What was put on a plate; what is known of the same revision is taken. */
async function paintedOf(
  order: LayerOrder,
  next: PaintedNames,
  known: { readonly names: PaintedNames; readonly painted: Painted8 } | undefined,
): Promise<Painted8> {
  const picture = async (what: 'fill' | 'overpaint'): Promise<Painted8> => {
    const revision = next[what];
    if (revision === null) return {};
    const have = known?.names[what] === revision ? known.painted[what] : undefined;
    return { [what]: have ?? (await fetchPainted(order, revision)) };
  };
  const [fill, overpaint] = await Promise.all([picture('fill'), picture('overpaint')]);
  return { ...fill, ...overpaint };
}

async function get(path: string): Promise<Response> {
  const answer = await fetch(path);
  if (answer.ok) return answer;
  const problem = (await answer.json().catch(() => undefined)) as { title?: string } | undefined;
  throw new Error(problem?.title ?? `The server answered ${answer.status}.`);
}

/** The source in a window, premultiplied. */
async function fetchPicture(order: LayerOrder): Promise<Premultiplied8> {
  const { shot, names, place } = order;
  const answer = await get(addressesIn(shot.id, place).picture(names));
  const picture = await decode(await answer.blob());
  return premultiply(picture);
}

async function decode(blob: Blob): Promise<Straight8> {
  const bitmap = await createImageBitmap(blob, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const image = context.getImageData(0, 0, bitmap.width, bitmap.height);
  return pictureOf(image, image.data, 'straight');
}

/** Longest side of a brought-in picture in the preview, px. */
const PIECE_SIDE = 2048;
const pieces = new Map<string, Promise<FetchedPiece>>();

/** A brought-in plate's picture; stored ones never change. */
function fetchPiece(shot: Shot, plate: string, { mediaId, width }: PieceName): Promise<FetchedPiece> {
  let found = pieces.get(mediaId);
  if (!found) {
    const path = `/api/shots/${shot.id}/plates/piece?plate=${plate}&media=${mediaId}&side=${PIECE_SIDE}`;
    found = get(path).then(async (answer) => ({ picture: await decode(await answer.blob()), fullWidth: width }));
    found.catch(() => {
      pieces.delete(mediaId);
    });
    pieces.set(mediaId, found);
  }
  return found;
}

/** What was filled in or painted, in a window, straight alpha. */
async function fetchPainted({ shot, place }: LayerOrder, revision: string): Promise<Straight8> {
  const answer = await get(addressesIn(shot.id, place).painted(revision));
  return decode(await answer.blob());
}

/** A stored depth map, or matte, at a layer's size. */
export async function fetchRaster(
  { shot, place }: Pick<LayerOrder, 'shot' | 'place'>,
  revision: string,
  what: 'depth' | 'matte' = 'depth',
): Promise<Uint16Array> {
  const packed = (await get(addressesIn(shot.id, place)[what](revision))).body!;
  return new Uint16Array(await new Response(packed.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer());
}
