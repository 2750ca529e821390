import type { Picture8 } from './picture';

/** Grey, 0 to 255 (luma of ITU-R BT.601). */
export function greyPlane({ data }: Picture8): Float32Array {
  const grey = new Float32Array(data.length / 4);
  for (let i = 0; i < grey.length; i++)
    grey[i] = 0.299 * data[i * 4] + 0.587 * data[i * 4 + 1] + 0.114 * data[i * 4 + 2];
  return grey;
}
