/** Small patches of like colour. */
export interface Superpixels {
  readonly count: number;
  /** The patch of every pixel. */
  readonly labels: Int32Array;
}

/** How a picture is divided. */
export interface Tiling {
  /** How much place weighs against colour: a difference of so many steps of colour weighs as much as one patch's side. */
  readonly ruler: number;
  /** A step of lightness weighs as many steps of colour. */
  readonly lightness: number;
  readonly iterations: number;
}

interface Dividing extends Tiling {
  readonly width: number;
  readonly height: number;
  /** Side of a patch, px. */
  readonly cell: number;
}

/**
 * Divides a picture into patches of like colour.
 * Source: Achanta and others, "SLIC superpixels compared to state-of-the-art superpixel methods", PAMI 34(11), 2012; patches are not
 * made connected afterwards, and each pixel asks the nine centres around the grid's cell that it lies in.
 * @param planes L, a and b
 */
export function superpixels(
  [light, green, blue]: readonly Float32Array[],
  { width, height, cell, ruler, lightness, iterations }: Dividing,
): Superpixels {
  const across = Math.max(1, Math.round(width / cell));
  const down = Math.max(1, Math.round(height / cell));
  const count = across * down;
  const stepX = width / across;
  const stepY = height / down;
  const labels = new Int32Array(width * height);
  // x, y, L, a, b, all in units in which a distance is a plain one.
  const ruled = ruler / cell;
  const lightOf = light.map((v) => v * lightness);
  const centres = new Float32Array(count * 5);
  for (let n = 0; n < count; n++) {
    const x = Math.min(width - 1, Math.floor(((n % across) + 0.5) * stepX));
    const y = Math.min(height - 1, Math.floor((Math.floor(n / across) + 0.5) * stepY));
    const i = y * width + x;
    centres.set([x * ruled, y * ruled, lightOf[i], green[i], blue[i]], n * 5);
  }
  const firstColumn = Int32Array.from({ length: across + 1 }, (_, n) => Math.ceil(n * stepX));
  const near = new Float32Array(9 * 5);
  const who = new Int32Array(9);
  for (let turn = 0; turn < iterations; turn++) {
    for (let y = 0; y < height; y++) {
      const row = Math.min(down - 1, Math.floor(y / stepY));
      const ruledY = y * ruled;
      for (let col = 0; col < across; col++) {
        let many = 0;
        for (let v = Math.max(0, row - 1); v <= Math.min(down - 1, row + 1); v++)
          for (let u = Math.max(0, col - 1); u <= Math.min(across - 1, col + 1); u++, many++) {
            const n = v * across + u;
            who[many] = n;
            for (let c = 0; c < 5; c++) near[many * 5 + c] = centres[n * 5 + c];
          }
        const end = col === across - 1 ? width : firstColumn[col + 1];
        for (let x = firstColumn[col], i = y * width + x; x < end; x++, i++) {
          const ruledX = x * ruled;
          const l = lightOf[i];
          const a = green[i];
          const b = blue[i];
          let least = Infinity;
          let best = 0;
          for (let m = 0, k = 0; m < many; m++, k += 5) {
            const dx = ruledX - near[k];
            const dy = ruledY - near[k + 1];
            const dl = l - near[k + 2];
            const da = a - near[k + 3];
            const db = b - near[k + 4];
            const far = dx * dx + dy * dy + dl * dl + da * da + db * db;
            if (far < least) {
              least = far;
              best = m;
            }
          }
          labels[i] = who[best];
        }
      }
    }
    if (turn < iterations - 1) toMeans(centres, labels, [lightOf, green, blue], { width, ruled });
  }
  return { count, labels };
}

/** Moves the centres to the means of their patches; one without pixels stays. */
function toMeans(
  centres: Float32Array,
  labels: Int32Array,
  [light, green, blue]: readonly Float32Array[],
  { width, ruled }: { readonly width: number; readonly ruled: number },
): void {
  const sums = new Float64Array(centres.length);
  const many = new Float64Array(centres.length / 5);
  for (let i = 0, x = 0, y = 0; i < labels.length; i++) {
    const k = labels[i] * 5;
    many[labels[i]]++;
    sums[k] += x * ruled;
    sums[k + 1] += y * ruled;
    sums[k + 2] += light[i];
    sums[k + 3] += green[i];
    sums[k + 4] += blue[i];
    if (++x === width) {
      x = 0;
      y++;
    }
  }
  for (let n = 0; n < many.length; n++)
    if (many[n] > 0) for (let c = n * 5; c < n * 5 + 5; c++) centres[c] = sums[c] / many[n];
}
