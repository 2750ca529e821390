import { premultiply } from '@/core/raster/alpha';
import type { Picture8 } from '@/core/raster/picture';
import type { Layer, LayerPlace, LayerPlate } from './layer';
import type { RasterNames } from './ways';

export interface Shot { readonly id: string; readonly width: number; readonly height: number }

interface Opened { readonly picture: Picture8; readonly depth: Uint16Array; readonly plates: LayerPlate[] }

/** Fetches what a layer needs; rasters that an earlier layer of the same place holds in the same revision are taken from it. */
export async function openRasters(shot: Shot, place: LayerPlace, names: RasterNames, held?: { readonly names: RasterNames; readonly layer: Layer }): Promise<Opened> {
  const size = sizeOf(place);
  const one = async (revision: string, matte: boolean, known: Uint16Array | undefined): Promise<Uint16Array> => known ?? fetchRaster(shot, place, revision, matte);
  const [picture, depth, ...plates] = await Promise.all([
    held ? held.layer.picture : fetchPicture(shot, place),
    one(names.depth, false, held?.names.depth === names.depth ? held.layer.depth.data : undefined),
    ...names.plates.map(async (name): Promise<LayerPlate> => {
      const was = held?.names.plates.find((p) => p.id === name.id), have = held?.layer.plates.find((p) => p.id === name.id);
      const values = was?.matte === name.matte && have ? have.matte.data : Uint8Array.from(await fetchRaster(shot, place, name.matte, true), (v) => (v + 128) / 257);
      return { id: name.id, matte: { ...size, data: values }, depth: { ...size, data: await one(name.depth, false, was?.depth === name.depth ? have?.depth.data : undefined) } };
    }),
  ]);
  return { picture, depth, plates };
}

function sizeOf(place: LayerPlace): { width: number; height: number } {
  return { width: Math.max(1, Math.round((place.right - place.left) * place.scale)), height: Math.max(1, Math.round((place.bottom - place.top) * place.scale)) };
}

function query(place: LayerPlace): string {
  const { width, height } = sizeOf(place);
  return new URLSearchParams(Object.entries({ left: place.left, top: place.top, right: place.right, bottom: place.bottom, width, height }).map(([k, v]) => [k, String(v)])).toString();
}

async function get(path: string): Promise<Response> {
  const answer = await fetch(path);
  if (!answer.ok) throw new Error(((await answer.json().catch(() => undefined)) as { title?: string } | undefined)?.title ?? `The server answered ${answer.status}.`);
  return answer;
}

/** The source in a window, premultiplied. */
async function fetchPicture(shot: Shot, place: LayerPlace): Promise<Picture8> {
  const blob = await (await get(`/api/shots/${shot.id}/picture?${query(place)}`)).blob();
  const bitmap = await createImageBitmap(blob, { premultiplyAlpha: 'none', colorSpaceConversion: 'none' });
  const context = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d', { willReadFrequently: true })!;
  context.drawImage(bitmap, 0, 0);
  const { width, height, data } = context.getImageData(0, 0, bitmap.width, bitmap.height);
  const picture = { width, height, data };
  for (let i = 3; i < data.length; i += 4) if (data[i] !== 255) { premultiply(picture); break; }
  return picture;
}

async function fetchRaster(shot: Shot, place: LayerPlace, revision: string, matte: boolean): Promise<Uint16Array> {
  const packed = (await get(`/api/shots/${shot.id}/depth?revision=${revision}&${query(place)}${matte ? '&as=matte' : ''}`)).body!;
  return new Uint16Array(await new Response(packed.pipeThrough(new DecompressionStream('gzip'))).arrayBuffer());
}
