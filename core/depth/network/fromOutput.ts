import { CoreError } from '../../error';
import type { Size } from '../../kind';
import type { Sidecar } from './sidecar';

/** So much of the values at both ends is cut off before the rest is laid between far and near. */
const CUT = 0.001;

/**
 * What a network said as depth: 0 farthest to 1 nearest, at the size that it was said in. Depth is linear in one over
 * the
 * distance; a nearness is taken to be that, up to a factor and an offset.
 * @param dims of the output; ones are of no account: height and width must be left
 * @throws CoreError `network-shape`, `network-values`
 */
export function fromOutput(
  values: ArrayLike<number>,
  dims: readonly number[],
  { says }: Pick<Sidecar, 'says'>,
): Size & { readonly depth: Float32Array } {
  const sides = dims.filter((d) => d !== 1);
  if (sides.length !== 2 || sides[0] * sides[1] !== values.length)
    throw new CoreError(
      'network-shape',
      `It gives ${dims.join(' × ')} numbers; a depth network gives one number a pixel: 1 × 1 × height × width.`,
    );
  const [height, width] = sides;
  const depth = new Float32Array(values.length);
  for (let i = 0; i < depth.length; i++) {
    const v = values[i];
    if (!Number.isFinite(v))
      throw new CoreError('network-values', 'It gives numbers that are none (infinite, or not a number).');
    depth[i] = says === 'nearness' ? v : 1 / Math.max(v, 1e-6);
  }
  const sorted = depth.slice().sort();
  const least = sorted[Math.floor(CUT * (sorted.length - 1))];
  const most = sorted[Math.ceil((1 - CUT) * (sorted.length - 1))];
  if (!(most > least))
    throw new CoreError('network-values', 'It gives the same depth everywhere, whatever the picture shows.');
  for (let i = 0; i < depth.length; i++) depth[i] = Math.min(1, Math.max(0, (depth[i] - least) / (most - least)));
  return { width, height, depth };
}
