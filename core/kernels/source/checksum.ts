// A checksum of a block of memory (AssemblyScript, compiled to WASM SIMD): sixteen lanes of FNV-1a on words of 32 bits. A single
// changed word always changes it, several with all but certainty; it is no protection against intent.
// Source: Fowler, Noll and Vo, "The FNV Non-Cryptographic Hash Algorithm", IETF draft-eastlake-fnv.

const PRIME: i32 = 0x01000193, BASIS: i32 = 0x811c9dc5;

/** Checksum of `rows` rows of `bytes` bytes that begin `stride` apart, into 64 bytes at `to`. */
export function checksum(first: usize, bytes: usize, stride: usize, rows: i32, to: usize): void {
  const prime = i32x4.splat(PRIME);
  let a = i32x4.splat(BASIS), b = a, c = a, d = a;
  for (let y = 0; y < rows; y++, first += stride) {
    let at = first;
    const whole = at + (bytes & ~63);
    for (; at < whole; at += 64) {
      a = i32x4.mul(v128.xor(a, v128.load(at)), prime);
      b = i32x4.mul(v128.xor(b, v128.load(at + 16)), prime);
      c = i32x4.mul(v128.xor(c, v128.load(at + 32)), prime);
      d = i32x4.mul(v128.xor(d, v128.load(at + 48)), prime);
    }
    // The rest, two bytes at a time, in one lane.
    let rest = i32x4.extract_lane(a, 0);
    for (let i: usize = 0; i < (bytes & 63); i += 2) rest = (rest ^ <i32>load<u16>(at + i)) * PRIME;
    a = i32x4.replace_lane(a, 0, rest);
  }
  v128.store(to, a);
  v128.store(to + 16, b);
  v128.store(to + 32, c);
  v128.store(to + 48, d);
}
