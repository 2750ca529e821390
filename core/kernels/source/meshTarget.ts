// What stays the same while one surface is drawn into the map (mesh.ts): where the map lies, the camera, the surface's distances.

/** Nearer to the camera than this share of its old distance nothing is drawn. */
export const CLOSEST: f32 = 0.02;

export let mapX: usize, mapY: usize, mapZ: usize;
export let targetWidth: i32, firstRow: i32, endRow: i32;
export let m00: f32, m01: f32, m02: f32, m10: f32, m11: f32, m12: f32, m20: f32, m21: f32, m22: f32, e0: f32, e1: f32, e2: f32;
export let w0: f32, w1: f32;
export let mayBeClear: bool;
/** How far the outermost pixels go on, px of the raster. */
export let beyondPx: f32;

/** Takes what drawMesh is given. */
export function aimAt(
  camera: usize, near: f32, far: f32, width: i32, height: i32, clears: bool, map: usize, mapWidth: i32, top: i32, end: i32,
): void {
  const count = mapWidth * (end - top);
  mapX = map; mapY = map + (<usize>count << 2); mapZ = map + (<usize>count << 3);
  targetWidth = mapWidth; firstRow = top; endRow = end;
  m00 = load<f32>(camera); m01 = load<f32>(camera, 4); m02 = load<f32>(camera, 8);
  m10 = load<f32>(camera, 12); m11 = load<f32>(camera, 16); m12 = load<f32>(camera, 20);
  m20 = load<f32>(camera, 24); m21 = load<f32>(camera, 28); m22 = load<f32>(camera, 32);
  e0 = load<f32>(camera, 36); e1 = load<f32>(camera, 40); e2 = load<f32>(camera, 44);
  mayBeClear = clears;
  w0 = far; w1 = (near - far) / 65535;
  beyondPx = <f32>max(width, height) * 0.5 + 64;
}

/** One target pixel, where nothing nearer is. */
// @ts-ignore: decorator
@inline
export function put(x: i32, y: i32, u: f32, v: f32, r: f32): void {
  putAt((y - firstRow) * targetWidth + x, u, v, r);
}

/** The same by its place in the map. */
// @ts-ignore: decorator
@inline
export function putAt(pixel: i32, u: f32, v: f32, r: f32): void {
  const at = <usize>pixel << 2;
  if (r > load<f32>(mapZ + at)) {
    store<f32>(mapZ + at, r);
    store<f32>(mapX + at, u);
    store<f32>(mapY + at, v);
  }
}
