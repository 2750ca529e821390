import type { DepthMap } from '../raster/picture';

/**
 * The depths below which a tenth, half and nine tenths of the pixels that count lie, 0 to 1; undefined where none
 * counts.
 */
export function tenths({ data }: DepthMap, counts: (i: number) => boolean): [number, number, number] | undefined {
  const bins = new Uint32Array(65536);
  let n = 0;
  for (let i = 0; i < data.length; i++)
    if (counts(i)) {
      bins[data[i]]++;
      n++;
    }
  if (n === 0) return undefined;
  const at = (share: number): number => {
    let left = share * n;
    let value = 0;
    while ((left -= bins[value]) > 0) value++;
    return value / 65535;
  };
  return [at(0.1), at(0.5), at(0.9)];
}
