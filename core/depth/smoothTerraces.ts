import type { DepthMap } from '../raster/picture';

/** Steps of fewer than ten bits, of more than seven. */
const LEAST = 64;
const MOST = 516;

/**
 * The step of a map whose values are all multiples of one: it holds some eight bits in the guise of sixteen (257: each byte twice;
 * 256: a byte and nothing). Undefined where its values are finer, or so few that they are meant.
 */
export function terraceStep({ data }: DepthMap): number | undefined {
  let step = 0;
  for (let i = 0; i < data.length; i++) {
    let [a, b] = [step, data[i]];
    while (b > 0) [a, b] = [b, a % b];
    step = a;
    if (step !== 0 && step < LEAST) return undefined;
  }
  return step >= LEAST && step <= MOST ? step : undefined;
}

/**
 * Takes the terraces out of a depth map that has only 256 steps: each value moves by at most half a step towards the mean of
 * its neighbours on the same or the next terrace. Jumps of more than one step stay exactly where they are.
 *
 * @param step size of a terrace; 257 for 8 bits stretched to 16
 * @param radius reach along rows and columns, px
 */
export function smoothTerraces(depth: DepthMap, step = 257, radius = 8): DepthMap {
  const { width, height } = depth;
  const reach = step * 1.01;
  const across = new Float32Array(depth.data);
  const line = new Float32Array(Math.max(width, height));
  const pass = (start: number, stride: number, count: number): void => {
    for (let i = 0; i < count; i++) line[i] = across[start + i * stride];
    for (let i = 0; i < count; i++) {
      const here = line[i];
      let sum = 0;
      let n = 0;
      const end = Math.min(count - 1, i + radius);
      for (let j = Math.max(0, i - radius); j <= end; j++) {
        if (Math.abs(line[j] - here) <= reach) {
          sum += line[j];
          n++;
        }
      }
      across[start + i * stride] = sum / n;
    }
  };
  for (let y = 0; y < height; y++) pass(y * width, 1, width);
  for (let x = 0; x < width; x++) pass(x, width, height);
  const out = new Uint16Array(depth.data.length);
  for (let i = 0; i < out.length; i++) {
    const was = depth.data[i];
    out[i] = Math.round(Math.min(Math.min(65535, was + step / 2), Math.max(Math.max(0, was - step / 2), across[i])));
  }
  return { width, height, data: out };
}
