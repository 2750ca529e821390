import { CoreError } from '../../error';
import { cropPicture, cropPlane } from '../../raster/crop';
import { copyPicture, isDeep, requireSameSize, type Mask, type Picture } from '../../raster/picture';
import { workBox } from '../workBox';
import { goOn } from './goOn';
import type { Ground } from './ground';

/** Repetitions are searched on a grid so many times coarser, more where the longer side would be more than so many px there. */
const FACTOR = 4;
const COARSE_SIDE = 400;
/** How soft the vote is, one proposal after the other: as it continues, crisper, softer. */
const KAPPAS = [0.2, 0.08, 0.6] as const;

export interface ContinueOptions {
  /** Where it may be taken from, 255; outside the hole only in any case. @default everywhere */
  readonly sampleFrom?: Mask;
  /** Which proposal: 1 as it continues, 2 crisper, 3 softer, and so on again. @default 1 */
  readonly seed?: number;
  /** Called now and then with the share that is done, 0 to 1; may throw to end the work. */
  readonly onProgress?: (share: number) => void;
}

/**
 * Fills a picture's hole with how its surroundings go on: straight structures and what repeats itself, as far as that is seen to
 * hold beside the hole; smoothly elsewhere. Pixels outside the hole come out unchanged, bit for bit; alpha stays.
 * @param hole 128 and more: fill
 * @throws CoreError `size-differs`; `no-hole`; `nothing-to-sample`
 */
export function continueFill<P extends Picture>(picture: P, hole: Mask, options: ContinueOptions = {}): P {
  requireSameSize('The hole', hole, 'the picture', picture);
  const { sampleFrom, seed = 1, onProgress } = options;
  if (sampleFrom) requireSameSize('The area to sample from', sampleFrom, 'the picture', picture);
  const box = workBox(hole, sampleFrom);
  const part = cropPicture(picture, box);
  const open = cropPlane(hole, box).data;
  const may = sampleFrom && cropPlane(sampleFrom, box).data;
  const { width, height, data } = part;
  const full = isDeep(picture) ? 257 : 1;
  const colours = new Float32Array(width * height * 3);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) colours[i * 3 + c] = data[i * 4 + c] / full;
  const known = Uint8Array.from(open, (v) => (v >= 128 ? 0 : 1));
  const from = may ? known.map((v, i) => (v && may[i] >= 128 ? 1 : 0)) : known;
  if (!from.includes(1))
    throw new CoreError('nothing-to-sample', 'There is nothing to sample from around the hole. Choose a larger area.');
  const ground: Ground = { width, height, colours, known, from };
  const factor = Math.max(FACTOR, Math.ceil(Math.max(width, height) / COARSE_SIDE));
  const kappa = KAPPAS[(seed + KAPPAS.length - 1) % KAPPAS.length];
  const filled = goOn(ground, { factor, kappa, ...(onProgress ? { onProgress } : {}) });
  const out = copyPicture(picture);
  const most = 255 * full;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0, j = ((box.top + y) * picture.width + box.left) * 4; x < width; x++, i++, j += 4)
      if (!known[i])
        for (let c = 0; c < 3; c++) out.data[j + c] = Math.min(most, Math.max(0, Math.round(filled[i * 3 + c] * full)));
  return out;
}
