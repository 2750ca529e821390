import type { Mask } from '../raster/picture';

/**
 * How much of a matte's edge runs along things, or gaps between them, that are thinner than `px`: hair, leaves, twigs. Next to 0 of
 * a smooth outline, towards 1 of a bush. There a hard edge is wrong almost everywhere, and coverage is worth solving.
 *
 * As thick as a place counts the shorter of the runs across and down it on its side of the edge, those that the picture's border
 * cuts off not at all (own measure).
 * @returns 0 to 1; 0 where there is no edge
 */
export function edgeFineness({ width, height, data }: Mask, px: number): number {
  const thin = new Uint8Array(width * height);
  const runs = (start: number, step: number, count: number): void => {
    for (let k = 0, from = 0; k < count; k++) {
      const inside = data[start + k * step] >= 128;
      if (k + 1 < count && data[start + (k + 1) * step] >= 128 === inside) continue;
      if (k + 1 - from < px && from > 0 && k + 1 < count) for (let j = from; j <= k; j++) thin[start + j * step] = 1;
      from = k + 1;
    }
  };
  for (let y = 0; y < height; y++) runs(y * width, 1, width);
  for (let x = 0; x < width; x++) runs(x, width, height);
  let edge = 0;
  let fine = 0;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (data[i] < 128) continue;
      let isEdge = false;
      let isFine = thin[i] === 1;
      const look = (j: number): void => {
        if (data[j] >= 128) return;
        isEdge = true;
        if (thin[j]) isFine = true;
      };
      if (x > 0) look(i - 1);
      if (x < width - 1) look(i + 1);
      if (y > 0) look(i - width);
      if (y < height - 1) look(i + width);
      if (!isEdge) continue;
      edge++;
      if (isFine) fine++;
    }
  return edge === 0 ? 0 : fine / edge;
}
