import type { Size } from '../../kind';
import type { Cues } from './cues';

/**
 * Depth of a room in perspective, 0 infinitely far to 1 at the picture's border. Each plane that recedes from the eye is
 * linear in the picture, as depth is linear in inverse distance: 0 where it vanishes, 1 at the border. Of the planes of
 * a room that is looked into, the one that is seen is the nearest.
 * Source: a pinhole's projection of a plane (science of depth linear in inverse distance); of the idea of so few planes:
 * Hoiem, Efros and Hebert, "Automatic photo pop-up", SIGGRAPH 2005.
 */
export function roomDepth(
  { width, height }: Size,
  { shape, vanishing }: Pick<Cues, 'shape' | 'vanishing'>,
): Float32Array {
  const out = new Float32Array(width * height);
  const across = Float32Array.from({ length: width }, (_, x) => {
    const u = (x + 0.5) / width;
    return Math.max(receding(u, vanishing.x, 0), receding(u, vanishing.x, 1));
  });
  const walls = shape === 'street' || shape === 'corridor';
  for (let y = 0, i = 0; y < height; y++) {
    const v = (y + 0.5) / height;
    const floor = shape === 'none' ? v : receding(v, vanishing.y, 1);
    const level = shape === 'corridor' ? Math.max(floor, receding(v, vanishing.y, 0)) : floor;
    for (let x = 0; x < width; x++, i++) out[i] = walls ? Math.max(level, across[x]) : level;
  }
  return out;
}

/** How near a plane is that vanishes at one place and ends at another, 0 to 1; 0 on the other side of where it vanishes. */
function receding(at: number, vanishes: number, end: number): number {
  return vanishes === end ? 0 : Math.max(0, (at - vanishes) / (end - vanishes));
}
