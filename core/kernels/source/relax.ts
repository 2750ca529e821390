/**
 * Relaxes the listed pixels of a plane of four interleaved floats towards the mean of their four neighbours (successive
 * over-relaxation, forwards and backwards in turn).
 *
 * list: i32, twice the pixel's number, plus 1 where it lies on the plane's border and lacks a neighbour.
 */
export function relaxPlane(values: usize, list: usize, count: i32, width: i32, height: i32, sweeps: i32, omega: f32): void {
  const row = <usize>width << 4;
  const quarter = f32x4.splat(0.25), strength = f32x4.splat(omega);
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const back = (sweep & 1) == 1;
    for (let n = 0; n < count; n++) {
      const entry = load<i32>(list + (<usize>(back ? count - 1 - n : n) << 2));
      const i = entry >> 1, at = values + (<usize>i << 4);
      const current = v128.load(at);
      let mean: v128;
      if ((entry & 1) == 0) {
        mean = f32x4.mul(f32x4.add(f32x4.add(v128.load(at - 16), v128.load(at + 16)),
          f32x4.add(v128.load(at - row), v128.load(at + row))), quarter);
      } else {
        const x = i % width, y = i / width;
        let sum = f32x4.splat(0), known: f32 = 0;
        if (x > 0) { sum = f32x4.add(sum, v128.load(at - 16)); known += 1; }
        if (x < width - 1) { sum = f32x4.add(sum, v128.load(at + 16)); known += 1; }
        if (y > 0) { sum = f32x4.add(sum, v128.load(at - row)); known += 1; }
        if (y < height - 1) { sum = f32x4.add(sum, v128.load(at + row)); known += 1; }
        mean = f32x4.div(sum, f32x4.splat(known));
      }
      v128.store(at, f32x4.add(current, f32x4.mul(strength, f32x4.sub(mean, current))));
    }
  }
}
