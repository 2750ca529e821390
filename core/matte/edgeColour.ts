import { CoreError } from '../error';
import { emptyPicture, isDeep, type Picture } from '../raster/picture';

/** Keeps the equations solvable where coverage does not change; and how strongly a change of coverage frees the colour. */
const REGULAR = 1e-5;
const GRADIENT = 1;

/**
 * The picture as it would be without the old background: in half-covered pixels the colour of the thing itself, elsewhere as it
 * was. Alpha is the matte.
 *
 * Source: Germer, Uelwer, Conrad and Harmeling, "Fast multi-level foreground estimation", ICPR 2020: foreground and
 * background are
 * both estimated from coarse to fine, each pixel from its neighbours and the mixing equation I = aF + (1-a)B. The two
 * constants are
 * from memory.
 * @param alpha coverage 0 to 1, one value a pixel
 * @throws CoreError `size-differs`
 */
export function cleanEdgeColour<P extends Picture>(picture: P, alpha: Float32Array): P {
  const { width, height, data } = picture;
  const most = isDeep(picture) ? 65535 : 255;
  if (alpha.length !== width * height)
    throw new CoreError(
      'size-differs',
      `The matte has ${alpha.length} values but the picture ${width} × ${height} px. Both must have the same size.`,
    );
  const image = new Float32Array(width * height * 3);
  for (let i = 0; i < alpha.length; i++) for (let c = 0; c < 3; c++) image[i * 3 + c] = data[i * 4 + c] / most;
  let { front, back } = meanColours(image, alpha);
  let w = 1;
  let h = 1;
  const levels = Math.max(1, Math.ceil(Math.log2(Math.max(width, height))));
  for (let level = 0; level <= levels; level++) {
    const nextW = Math.round(width ** (level / levels));
    const nextH = Math.round(height ** (level / levels));
    front = resize(front, { w, h }, { w: nextW, h: nextH });
    back = resize(back, { w, h }, { w: nextW, h: nextH });
    w = nextW;
    h = nextH;
    const small =
      level === levels
        ? { image, alpha }
        : {
            image: resize(image, { w: width, h: height }, { w, h }),
            alpha: resizePlane(alpha, { w: width, h: height }, { w, h }),
          };
    // Small levels settle in ten turns; large ones begin nearly right, and need to be right around the edge only.
    const where = w * h > ALL ? aroundEdges(small.alpha, w, h) : undefined;
    for (let turn = 0; turn < (w <= 32 && h <= 32 ? 10 : 2); turn++) relax({ ...small, w, h }, front, back, where);
  }
  const out = emptyPicture(picture, width, height);
  for (let i = 0; i < alpha.length; i++) {
    const a = alpha[i];
    for (let c = 0; c < 3; c++)
      out.data[i * 4 + c] =
        a > 0 && a < 1 ? Math.round(most * Math.min(1, Math.max(0, front[i * 3 + c]))) : data[i * 4 + c];
    out.data[i * 4 + 3] = Math.round(a * most);
  }
  return out;
}

/** Width and height of a level, px. */
interface Across {
  readonly w: number;
  readonly h: number;
}

/** Mean colours of what is covered and of what is not. */
function meanColours(image: Float32Array, alpha: Float32Array): { front: Float32Array; back: Float32Array } {
  const front = new Float64Array(4);
  const back = new Float64Array(4);
  for (let i = 0; i < alpha.length; i++) {
    const a = alpha[i];
    const b = 1 - a;
    front[3] += a;
    back[3] += b;
    for (let c = 0; c < 3; c++) {
      front[c] += a * image[i * 3 + c];
      back[c] += b * image[i * 3 + c];
    }
  }
  const mean = (sum: Float64Array): Float32Array => Float32Array.from(sum.subarray(0, 3), (v) => v / (sum[3] + 1e-9));
  return { front: mean(front), back: mean(back) };
}

/** Nearest pixel: what the source asks for; the turns at the new size even it out. */
function resize(from: Float32Array, { w, h }: Across, { w: nextW, h: nextH }: Across): Float32Array {
  const out = new Float32Array(nextW * nextH * 3);
  for (let y = 0, o = 0; y < nextH; y++) {
    const row = Math.min(h - 1, Math.floor((y * h) / nextH)) * w;
    for (let x = 0; x < nextW; x++, o += 3) {
      const i = (row + Math.min(w - 1, Math.floor((x * w) / nextW))) * 3;
      out[o] = from[i];
      out[o + 1] = from[i + 1];
      out[o + 2] = from[i + 2];
    }
  }
  return out;
}

function resizePlane(from: Float32Array, { w, h }: Across, { w: nextW, h: nextH }: Across): Float32Array {
  const out = new Float32Array(nextW * nextH);
  for (let y = 0, o = 0; y < nextH; y++) {
    const row = Math.min(h - 1, Math.floor((y * h) / nextH)) * w;
    for (let x = 0; x < nextW; x++, o++) out[o] = from[row + Math.min(w - 1, Math.floor((x * w) / nextW))];
  }
  return out;
}

/**
 * Levels of no more pixels are worked on everywhere; and how far around the edge larger ones are: two turns carry
 * colour two pixels far.
 */
const ALL = 128 * 128;
const AROUND = 3;

/** 1 no farther than AROUND from where coverage changes or is partial. */
function aroundEdges(alpha: Float32Array, w: number, h: number): Uint8Array {
  const across = new Uint8Array(w * h);
  const out = new Uint8Array(w * h);
  for (let y = 0; y < h; y++) {
    for (let x = 0, i = y * w; x < w; x++, i++) {
      const a = alpha[i];
      if (!(a > 0 && a < 1) && (x === w - 1 || alpha[i + 1] === a) && (y === h - 1 || alpha[i + w] === a)) continue;
      across.fill(1, Math.max(y * w, i - AROUND), Math.min((y + 1) * w, i + AROUND + 1));
    }
  }
  for (let y = 0; y < h; y++) {
    const first = Math.max(0, y - AROUND) * w;
    const end = Math.min(h, y + AROUND + 1) * w;
    for (let x = 0, i = y * w; x < w; x++, i++)
      for (let j = first + x; j < end; j += w)
        if (across[j]) {
          out[i] = 1;
          break;
        }
  }
  return out;
}

/** One turn in place, over all pixels or those marked: foreground and background of each from two equations. */
function relax(
  { image, alpha, w, h }: Across & { readonly image: Float32Array; readonly alpha: Float32Array },
  front: Float32Array,
  back: Float32Array,
  where: Uint8Array | undefined,
): void {
  for (let y = 0, i = 0; y < h; y++) {
    for (let x = 0; x < w; x++, i++) {
      if (where?.[i] === 0) continue;
      const a = alpha[i];
      const b = 1 - a;
      let ff = a * a;
      let bb = b * b;
      let fr = 0;
      let fg = 0;
      let fb = 0;
      let br = 0;
      let bg = 0;
      let bl = 0;
      const fb0 = a * b;
      for (let n = 0; n < 4; n++) {
        let j = i;
        if (n === 0 && x > 0) j = i - 1;
        else if (n === 1 && x < w - 1) j = i + 1;
        else if (n === 2 && y > 0) j = i - w;
        else if (n === 3 && y < h - 1) j = i + w;
        const d = REGULAR + GRADIENT * Math.abs(a - alpha[j]);
        ff += d;
        bb += d;
        fr += d * front[j * 3];
        fg += d * front[j * 3 + 1];
        fb += d * front[j * 3 + 2];
        br += d * back[j * 3];
        bg += d * back[j * 3 + 1];
        bl += d * back[j * 3 + 2];
      }
      const inverse = 1 / (ff * bb - fb0 * fb0);
      const p = i * 3;
      const sides = [
        a * image[p] + fr,
        a * image[p + 1] + fg,
        a * image[p + 2] + fb,
        b * image[p] + br,
        b * image[p + 1] + bg,
        b * image[p + 2] + bl,
      ];
      for (let c = 0; c < 3; c++) {
        front[p + c] = Math.min(1, Math.max(0, inverse * (bb * sides[c] - fb0 * sides[c + 3])));
        back[p + c] = Math.min(1, Math.max(0, inverse * (ff * sides[c + 3] - fb0 * sides[c])));
      }
    }
  }
}
