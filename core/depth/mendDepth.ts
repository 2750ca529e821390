import type { DepthMap } from '../raster/picture';
import { fillUnknown, unknownPlaces } from './fillUnknown';
import { sharpenEdges } from './sharpenEdges';
import { smoothTerraces, terraceStep } from './smoothTerraces';

/** What a depth map lacked when it came in. */
export interface Mended {
  /** Share of it that said nothing and was filled from the farther side. */
  readonly unknown: number;
  /** Whether it had but some 256 steps, which were smoothed. */
  readonly terraces: boolean;
  /** Whether its edges had been softened, and were made sharp. */
  readonly softEdges: boolean;
}

/** Mends what maps often lack. @param whiteIsNear whether larger values are nearer */
export function mendDepth(map: DepthMap, whiteIsNear: boolean): { readonly map: DepthMap; readonly mended: Mended } {
  const places = unknownPlaces(map);
  const known = places ? fillUnknown(map, places, whiteIsNear) : map;
  const step = terraceStep(known);
  const smooth = step === undefined ? known : smoothTerraces(known, step);
  const sharp = sharpenEdges(smooth);
  const mended: Mended = {
    unknown: places ? places.data.reduce((n, v) => n + v / 255, 0) / places.data.length : 0,
    terraces: step !== undefined,
    softEdges: sharp !== smooth,
  };
  return { map: sharp, mended };
}

/** What was mended, as a sentence; undefined where nothing was. */
export function mendedSentence({ unknown, terraces, softEdges }: Mended): string | undefined {
  const said = [
    ...(unknown > 0
      ? [
          `${(100 * unknown).toFixed(1)} % of the map said nothing (0, apart from all else) and was filled from the farther side`,
        ]
      : []),
    ...(terraces ? ['its 256 steps were smoothed'] : []),
    ...(softEdges ? ['its softened edges were made sharp'] : []),
  ];
  if (said.length === 0) return undefined;
  const text = said.join('; ');
  return `${text[0].toUpperCase()}${text.slice(1)}. Bring it in with Mend the map off to have it as it is.`;
}
