import type { Size } from '../kind';
import { emptyFlow, type FlowField } from './flowField';

/** A field over many frames, with how sure it is, 0 to 1 a pixel. */
export interface Chain extends FlowField {
  readonly trust: Float32Array;
}

/** A chain of no frames: everything is where it is. */
export const noChain = (size: Size): Chain => ({
  ...emptyFlow(size),
  trust: new Float32Array(size.width * size.height).fill(1),
});

/**
 * One frame more at the near end: from a new frame to the one where the chain began, then along the chain. By the
 * nearest place of the chain and what remains, so that nothing is blurred from frame to frame.
 */
export function before(step: FlowField, trust: Float32Array, chain: Chain): Chain {
  const out = noChain(step);
  const { width, height } = step;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      const k = nearest(x + step.dx[i], y + step.dy[i], step);
      out.dx[i] = step.dx[i] + chain.dx[k];
      out.dy[i] = step.dy[i] + chain.dy[k];
      out.trust[i] = trust[i] * chain.trust[k];
    }
  return out;
}

function nearest(x: number, y: number, { width, height }: Size): number {
  const u = Math.min(width - 1, Math.max(0, Math.round(x)));
  return Math.min(height - 1, Math.max(0, Math.round(y))) * width + u;
}
