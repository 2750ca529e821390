// Relaxation of a membrane over scattered pixels: each becomes the mean of its neighbours, again and again (Gauss-Seidel with
// over-relaxation), all four channels at once.

/**
 * values: (count + 1) f32x4, the last one zeros; known: count f32x4, the sum of each pixel's known neighbours;
 * inverse: count f32, 1 / number of neighbours; neighbours: count i32x4, indices of unknown neighbours or `count` for none.
 */
export function relaxMembrane(values: usize, known: usize, inverse: usize, neighbours: usize, count: i32, sweeps: i32, omega: f32): void {
  const w = f32x4.splat(omega);
  for (let sweep = 0; sweep < sweeps; sweep++) {
    const forward = (sweep & 1) == 0;
    for (let n = 0; n < count; n++) {
      const k = <usize>(forward ? n : count - 1 - n);
      const nb = neighbours + (k << 4);
      let sum = f32x4.add(v128.load(known + (k << 4)), v128.load(values + (<usize>load<u32>(nb) << 4)));
      sum = f32x4.add(sum, v128.load(values + (<usize>load<u32>(nb + 4) << 4)));
      sum = f32x4.add(sum, v128.load(values + (<usize>load<u32>(nb + 8) << 4)));
      sum = f32x4.add(sum, v128.load(values + (<usize>load<u32>(nb + 12) << 4)));
      const v = v128.load(values + (k << 4));
      const mean = f32x4.mul(sum, v128.load32_splat(inverse + (k << 2)));
      v128.store(values + (k << 4), f32x4.add(v, f32x4.mul(w, f32x4.sub(mean, v))));
    }
  }
}
