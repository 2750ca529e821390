import { distanceTo } from './distance';
import { isDeep, type Mask, type Picture, type Straight } from './picture';
import type { ColourMatch } from './placePiece';

/** A gain beyond these would show noise or wash out. */
const LEAST = 0.4;
const MOST = 2.5;

/**
 * What a placed piece needs to look at home: gain and offset of each channel that give it the mean and the spread of the picture
 * around it. Measured over the picture within `reach` px of the piece, and over the piece where it covers.
 *
 * Source: Reinhard, Ashikhmin, Gooch and Shirley, "Color transfer between images", IEEE CG&A 21(5), 2001; in RGB, with the gain
 * held between 0.4 and 2.5.
 * @param placed the piece on the canvas, straight alpha
 * @param ground the picture that it lies on
 */
export function matchColour(placed: Straight, ground: Picture, reach: number): Omit<ColourMatch, 'strength'> {
  const { width, height } = placed;
  const n = width * height;
  const mostPlaced = isDeep(placed) ? 65535 : 255;
  const mostGround = isDeep(ground) ? 65535 : 255;
  const cover: Mask = { width, height, data: new Uint8Array(n) };
  for (let i = 0; i < n; i++) cover.data[i] = Math.round((placed.data[i * 4 + 3] * 255) / mostPlaced);
  const away = distanceTo(cover, true);
  const gain: [number, number, number] = [1, 1, 1];
  const offset: [number, number, number] = [0, 0, 0];
  for (let c = 0; c < 3; c++) {
    let pieceSum = 0;
    let own2 = 0;
    let owns = 0;
    let other = 0;
    let other2 = 0;
    let others = 0;
    for (let i = 0; i < n; i++) {
      if (away[i] === 0) {
        const v = placed.data[i * 4 + c] / mostPlaced;
        pieceSum += v;
        own2 += v * v;
        owns++;
      } else if (away[i] <= reach) {
        const v = ground.data[i * 4 + c] / mostGround;
        other += v;
        other2 += v * v;
        others++;
      }
    }
    if (owns === 0 || others === 0) return { gain, offset };
    const meanOwn = pieceSum / owns;
    const meanOther = other / others;
    const spreadOwn = Math.sqrt(Math.max(0, own2 / owns - meanOwn ** 2));
    const spreadOther = Math.sqrt(Math.max(0, other2 / others - meanOther ** 2));
    gain[c] = spreadOwn < 1e-3 ? 1 : Math.min(MOST, Math.max(LEAST, spreadOther / spreadOwn));
    offset[c] = meanOther - gain[c] * meanOwn;
  }
  return { gain, offset };
}
