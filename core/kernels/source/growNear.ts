// The near side of every jump grown by a column (AssemblyScript, compiled to WASM SIMD).

/**
 * Grows the near side of every jump by one column: the pixel next to a nearer one takes the nearer depth where they differ
 * by more than `jump`. Photographed edges are mixed over a pixel, and a mixed pixel belongs to the near side.
 * above and below are the neighbouring rows (the row itself at the picture's border).
 */
export function growNearRow(above: usize, row: usize, below: usize, out: usize, width: i32, jump: i32): void {
  const limit = i16x8.splat(<i16>jump);
  for (let x = 0; x < width; x += 8) {
    const at = <usize>x << 1;
    const d = v128.load(row + at);
    let m = i16x8.max_u(v128.load(row + at - 2), v128.load(row + at + 2));
    m = i16x8.max_u(m, i16x8.max_u(v128.load(above + at), v128.load(below + at)));
    const far = i16x8.gt_u(i16x8.sub_sat_u(m, d), limit);
    v128.store(out + at, v128.bitselect(m, d, far));
  }
  // The picture's border has no neighbour outside; what stood there is another row.
  growNearPixel(above, row, below, out, 0, width, jump);
  growNearPixel(above, row, below, out, width - 1, width, jump);
}

function growNearPixel(above: usize, row: usize, below: usize, out: usize, x: i32, width: i32, jump: i32): void {
  const at = <usize>x << 1;
  const d = <i32>load<u16>(row + at);
  let m = max(<i32>load<u16>(above + at), <i32>load<u16>(below + at));
  if (x > 0) m = max(m, <i32>load<u16>(row + at - 2));
  if (x < width - 1) m = max(m, <i32>load<u16>(row + at + 2));
  store<u16>(out + at, <u16>(m - d > jump ? m : d));
}
