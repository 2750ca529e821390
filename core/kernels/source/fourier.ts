// Discrete Fourier transforms of planes of f32, real and imaginary parts apart, and what masked correlation makes of
// their spectra.

/** Columns that are transformed at once: their rows lie side by side in the caches. */
const STRIP: i32 = 16;

/**
 * Transforms the columns of a plane and writes it with its sides exchanged; twice it is the transform of the plane, as it lay.
 * Columns outside first to end are zero and not looked at; what is written for them is not touched.
 *
 * turns: cos and sin of 2 pi n / height, n from 0 to height / 2, one list after the other; scratch: height x 32 floats.
 * Source: Cooley and Tukey, "An algorithm for the machine calculation of complex Fourier series", Math. Comp. 19, 1965.
 */
export function fourierColumns(re: usize, im: usize, toRe: usize, toIm: usize, width: i32, height: i32, turns: usize,
  scratch: usize, first: i32, end: i32, inverse: i32): void {
  const bits = 31 - clz(height), wide = <usize>STRIP << 2, half = <usize>height * wide;
  const sines = turns + (<usize>(height >> 1) << 2), sign: f32 = inverse ? 1 : -1;
  for (let x = first & ~(STRIP - 1); x < end; x += STRIP) {
    for (let y = 0; y < height; y++) {
      const at = (<usize>y * width + x) << 2;
      const to = scratch + <usize>(reversed(y, bits)) * wide;
      memory.copy(to, re + at, wide);
      memory.copy(to + half, im + at, wide);
    }
    for (let size = 2; size <= height; size <<= 1) {
      const reach = size >> 1, step = height / size;
      for (let k = 0; k < reach; k++) {
        const n = <usize>(k * step) << 2;
        const c = f32x4.splat(load<f32>(turns + n)), s = f32x4.splat(sign * load<f32>(sines + n));
        for (let y = k; y < height; y += size) {
          const a = scratch + <usize>y * wide, b = a + <usize>reach * wide;
          for (let d: usize = 0; d < wide; d += 16) {
            const br = v128.load(b + d), bi = v128.load(b + d + half);
            const tr = f32x4.sub(f32x4.mul(br, c), f32x4.mul(bi, s)), ti = f32x4.add(f32x4.mul(br, s), f32x4.mul(bi, c));
            const ar = v128.load(a + d), ai = v128.load(a + d + half);
            v128.store(a + d, f32x4.add(ar, tr));
            v128.store(a + d + half, f32x4.add(ai, ti));
            v128.store(b + d, f32x4.sub(ar, tr));
            v128.store(b + d + half, f32x4.sub(ai, ti));
          }
        }
      }
    }
    for (let u = 0; u < STRIP; u++) {
      const to = (<usize>(x + u) * height) << 2, from = scratch + (<usize>u << 2);
      for (let y = 0; y < height; y++) {
        store<f32>(toRe + to + (<usize>y << 2), load<f32>(from + <usize>y * wide));
        store<f32>(toIm + to + (<usize>y << 2), load<f32>(from + half + <usize>y * wide));
      }
    }
  }
}

function reversed(n: i32, bits: i32): i32 {
  let out = 0;
  for (let b = 0; b < bits; b++) out |= ((n >> b) & 1) << (bits - 1 - b);
  return out;
}

/**
 * Spectra of what a window is held against everywhere at once: overlap and squared difference in one plane, difference of means
 * and what is covered of the hole in another. Each plane holds two real ones, told apart by their symmetry.
 *
 * at: six planes of real parts and then imaginary parts, one after the other: sources (their mask, and mask times grey), squares
 * (mask times grey squared), window a (weight, and weight times grey), window b (weight times grey squared, and hole), out c,
 * out d.
 */
export function correlateSpectra(at: usize, width: i32, height: i32): void {
  const plane = (<usize>width * height) << 2;
  const mr = at, mi = mr + plane, qr = mi + plane, qi = qr + plane, ar = qi + plane, ai = ar + plane, br = ai + plane,
    bi = br + plane, cr = bi + plane, ci = cr + plane, dr = ci + plane, di = dr + plane;
  const half: f32 = 0.5;
  for (let y = 0; y < height; y++) {
    const row = y * width, mirror = ((height - y) & (height - 1)) * width;
    for (let x = 0; x < width; x++) {
      const k = <usize>(row + x) << 2, j = <usize>(mirror + ((width - x) & (width - 1))) << 2;
      const skr = load<f32>(mr + k), ski = load<f32>(mi + k), sjr = load<f32>(mr + j), sji = load<f32>(mi + j);
      const maskR = (skr + sjr) * half, maskI = (ski - sji) * half, greyR = (ski + sji) * half, greyI = (sjr - skr) * half;
      const squareR = load<f32>(qr + k), squareI = load<f32>(qi + k);
      // The window's are conjugated: it is a correlation.
      const akr = load<f32>(ar + k), aki = load<f32>(ai + k), ajr = load<f32>(ar + j), aji = load<f32>(ai + j);
      const wr = (akr + ajr) * half, wi = (aji - aki) * half, vr = (aki + aji) * half, vi = (akr - ajr) * half;
      const bkr = load<f32>(br + k), bki = load<f32>(bi + k), bjr = load<f32>(br + j), bji = load<f32>(bi + j);
      const sr = (bkr + bjr) * half, si = (bji - bki) * half, hr = (bki + bji) * half, hi = (bkr - bjr) * half;
      const overlapR = wr * maskR - wi * maskI, overlapI = wr * maskI + wi * maskR;
      const crossR = vr * greyR - vi * greyI, crossI = vr * greyI + vi * greyR;
      const offR = sr * maskR - si * maskI - 2 * crossR + wr * squareR - wi * squareI;
      const offI = sr * maskI + si * maskR - 2 * crossI + wr * squareI + wi * squareR;
      store<f32>(cr + k, overlapR - offI);
      store<f32>(ci + k, overlapI + offR);
      const meanR = vr * maskR - vi * maskI - (wr * greyR - wi * greyI);
      const meanI = vr * maskI + vi * maskR - (wr * greyI + wi * greyR);
      const coverR = hr * maskR - hi * maskI, coverI = hr * maskI + hi * maskR;
      store<f32>(dr + k, meanR - coverI);
      store<f32>(di + k, meanI + coverR);
    }
  }
}
