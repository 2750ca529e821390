import { smoothFill } from '../../inpaint/smoothFill';
import type { BehindFrame } from './frames';
import type { Borrowed } from './borrow';
import { INVENTED, knownBy } from './source';

/** What no frame shows goes on smoothly from around. @param want 255 where nothing is known; all of it becomes known */
export function invent(into: Borrowed, { picture, depth, hole }: Omit<BehindFrame, 'painted'>, want: Uint8Array): void {
  const { width, height } = into;
  if (!want.includes(255)) return;
  const values = new Float32Array(4 * want.length);
  const open = new Uint8Array(want.length);
  for (let i = 0; i < want.length; i++) {
    const hidden = hole.data[i] > 0;
    for (let c = 0; c < 3; c++) values[4 * i + c] = hidden ? into.colours[3 * i + c] : picture.data[4 * i + c];
    values[4 * i + 3] = hidden ? into.depth[i] : depth.data[i] / 65535;
    open[i] = want[i] > 0 ? 1 : 0;
  }
  smoothFill(values, open, { width, height, channels: 4 });
  for (let i = 0; i < want.length; i++) {
    if (open[i] === 0) continue;
    for (let c = 0; c < 3; c++) into.colours[3 * i + c] = values[4 * i + c];
    into.depth[i] = values[4 * i + 3];
    into.known[i] = knownBy(INVENTED);
    want[i] = 0;
  }
}
