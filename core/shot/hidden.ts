import { cropPlane } from '../raster/crop';
import { distanceTo } from '../raster/distance';
import { nearestSeed } from '../raster/nearest';
import type { Mask } from '../raster/picture';
import { coveredRect } from './plates';

/** A mask of a part of the picture. */
export interface PartMask {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  readonly data: Uint8Array;
}

/** What a plate covers, pushed out by `push` px so that no rim of it stays behind; undefined where it covers nothing. */
export function pushedOut(matte: Mask, push: number): PartMask | undefined {
  const rect = coveredRect(matte, Math.ceil(push) + 2);
  if (!rect) return undefined;
  const { width, height, data: part } = cropPlane(matte, rect);
  const data = new Uint8Array(width * height);
  const away = distanceTo({ width, height, data: part.map((v) => (v > 0 ? 255 : 0)) }, true);
  for (let i = 0; i < data.length; i++) if (away[i] <= push) data[i] = 255;
  return { left: rect.left, top: rect.top, width, height, data };
}

/**
 * Which parts of farther plates go on behind nearer ones: what a plate hides belongs to the plate whose visible pixels
 * are nearest to
 * it. The back plate goes on behind everything and is not told here.
 *
 * @param mattes from far to near
 * @param pushed the same plates, pushed out
 * @returns for each plate where it goes on, 255; undefined where it does nowhere
 */
export function hiddenParts(mattes: readonly Mask[], pushed: readonly (PartMask | undefined)[]): (Mask | undefined)[] {
  const hidden: (Mask | undefined)[] = mattes.map(() => undefined);
  if (mattes.length < 2) return hidden;
  const { width, height } = mattes[0];
  const owner = new Uint8Array(width * height);
  mattes.forEach((m, n) => {
    for (let i = 0; i < owner.length; i++) if (m.data[i] >= 128) owner[i] = n + 1;
  });
  pushed.forEach((part, m) => {
    if (!part || m === 0) return;
    const label = nearestOwner(part, owner, width, m);
    if (!label) return;
    for (let y = 0, i = 0; y < part.height; y++) {
      for (let x = 0; x < part.width; x++, i++) {
        if (part.data[i] === 0 || label[i] === 0) continue;
        const to = (hidden[label[i] - 1] ??= { width, height, data: new Uint8Array(width * height) });
        to.data[(part.top + y) * width + part.left + x] = 255;
      }
    }
  });
  return hidden;
}

/**
 * For each pixel of a part the owner of the nearest one outside it that lies farther than plate `m`; undefined where
 * only the back plate does.
 */
function nearestOwner(part: PartMask, owner: Uint8Array, width: number, m: number): Uint8Array | undefined {
  const { width: w, height: h } = part;
  const seeds = new Uint8Array(w * h);
  const label = new Uint8Array(w * h);
  let others = false;
  const ownerAt = (i: number): number => owner[(part.top + Math.floor(i / w)) * width + part.left + (i % w)];
  for (let i = 0; i < seeds.length; i++) {
    const o = ownerAt(i);
    if (part.data[i] !== 0 || o > m) continue;
    seeds[i] = 1;
    if (o !== 0) others = true;
  }
  if (!others) return undefined;
  const from = nearestSeed(w, h, (i) => seeds[i] === 1);
  for (let i = 0; i < label.length; i++) label[i] = from[i] < 0 ? 0 : ownerAt(from[i]);
  return label;
}
