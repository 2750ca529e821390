import { CoreError } from '../error';
import { requireSameSize, type Mask, type Picture8 } from '../raster/picture';
import { cropToBand, enlarge, halve, type MattingLevel } from './mattingLevel';
import { MattingSystem } from './mattingSystem';

export interface ClosedFormOptions {
  /**
   * Keeps windows of one colour solvable; colours from 0 to 1. At least 1e-5: with less, the rounding of floats shows
   * in smooth ramps (the source has 1e-7, in doubles). @default 1e-5
   */
  readonly epsilon?: number;
  /** The solver ends when the residual has fallen to this share of what it began with. @default 1e-3 */
  readonly accuracy?: number;
  /** Most turns of the solver at each size. @default 400 */
  readonly iterations?: number;
  /** Called now and then with the share that is done, 0 to 1; may throw to end the work. */
  readonly onProgress?: (share: number) => void;
}

/** Below this many unsure pixels a smaller size would gain nothing. */
const FEW = 2000;

/**
 * The soft matte inside a trimap's unsure band: within every 3 x 3 window coverage is taken to be a linear function of colour.
 * Values are 0 to 1; sure pixels keep their side exactly.
 *
 * Source: Levin, Lischinski and Weiss, "A closed-form solution to natural image matting", PAMI 30(2), 2008. The equations are
 * solved for the unsure pixels alone, by conjugate gradients with the diagonal as preconditioner, at half the size first (and a
 * quarter, and so on): what spreads far is nearly right then before the fine grid begins.
 * @throws CoreError `size-differs`; `too-small`; `out-of-range`; `no-sides` where the trimap holds no pixel that is
 * in, or none that is out
 */
export function closedFormMatte(picture: Picture8, trimap: Mask, options: ClosedFormOptions = {}): Float32Array {
  requireSameSize('The trimap', trimap, 'the picture', picture);
  const { width, height } = trimap;
  if (width < 3 || height < 3)
    throw new CoreError('too-small', `The picture is ${width} × ${height} px; a matte is solved from 3 × 3 px on.`);
  if (options.epsilon !== undefined && !(options.epsilon >= 1e-5))
    throw new CoreError('out-of-range', `Epsilon is ${options.epsilon}; it must be 1e-5 or more.`);
  const alpha = new Float32Array(width * height);
  let sides = 0;
  for (let i = 0; i < alpha.length; i++) {
    const t = trimap.data[i];
    if (t === 255) {
      alpha[i] = 1;
      sides |= 1;
    } else if (t === 0) sides |= 2;
  }
  const missing = ['in or out', 'out (black)', 'in (white)'].at(sides);
  if (missing !== undefined)
    throw new CoreError(
      'no-sides',
      `The trimap holds no pixel that is surely ${missing}. Both are needed to solve what lies between.`,
    );
  const level = cropToBand(picture, trimap);
  if (!level) return alpha;
  const solved = solveLevel(level, options);
  for (let y = 0; y < level.height; y++) {
    for (let x = 0; x < level.width; x++) {
      const i = y * level.width + x;
      if (level.unsure[i]) alpha[(level.top + y) * width + level.left + x] = Math.min(1, Math.max(0, solved[i]));
    }
  }
  return alpha;
}

function solveLevel(level: MattingLevel, options: ClosedFormOptions): Float32Array {
  const smaller = level.count > FEW ? halve(level) : undefined;
  const start = smaller
    ? enlarge(solveLevel(smaller, { ...options, onProgress: undefined }), smaller, level)
    : level.start.slice();
  return new MattingSystem(level, options.epsilon ?? 1e-5).solve(
    start,
    options.accuracy ?? 1e-3,
    options.iterations ?? 400,
    options.onProgress,
  );
}
