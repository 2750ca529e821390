import type { Picture8 } from '../../raster/picture';
import { reducePlane } from '../../raster/resizePlane';
import type { Sidecar } from './sidecar';

/** A picture as the numbers that a network gets: at its size, its colours as its sidecar says. */
export function toInput({ width, height, data }: Picture8, sidecar: Sidecar): Float32Array {
  const { mean, std, channels, layout } = sidecar;
  const count = sidecar.width * sidecar.height;
  const out = new Float32Array(count * 3);
  const plane = new Uint16Array(width * height);
  for (let c = 0; c < 3; c++) {
    const from = channels === 'rgb' ? c : 2 - c;
    for (let i = 0; i < plane.length; i++) plane[i] = data[i * 4 + from] * 257;
    const at = layout === 'nchw' ? { first: c * count, step: 1 } : { first: c, step: 3 };
    // A picture that is smaller than the network's input is enlarged by the same area means: its pixels as squares.
    reducePlane({ width, height, data: plane }, sidecar).forEach((v, i) => {
      out[at.first + i * at.step] = (v / 65535 - mean[c]) / std[c];
    });
  }
  return out;
}
