import readExif from 'exif-reader';

/** Diagonal of a 24 x 36 mm frame, which equivalent focal lengths go by. Source: CIPA DCG-001. */
const DIAGONAL_MM = Math.hypot(24, 36);
/** Millimetres in the units of EXIF 2.32, FocalPlaneResolutionUnit: inches, centimetres, and what some cameras write besides. */
const UNIT_MM: Readonly<Record<number, number>> = { 2: 25.4, 3: 10, 4: 1, 5: 0.001 };
/** Narrower and wider ones than of any lens are taken for mistakes, in widths of the picture. */
const SHORTEST = 0.1;
const LONGEST = 60;

/**
 * The focal length with which a picture was taken, px of the picture; undefined where its metadata do not say it, or say nonsense.
 * Source: EXIF 2.32 (CIPA DC-008), FocalLengthIn35mmFilm, or FocalLength with FocalPlaneXResolution.
 *
 * @param exif as it stands in the file
 */
export function focalLengthOf(exif: Buffer | undefined, width: number, height: number): number | undefined {
  if (!exif) return undefined;
  let said: ReturnType<typeof readExif>;
  try {
    said = readExif(exif);
  } catch {
    return undefined;
  }
  const photo = said.Photo ?? {};
  const number = (value: unknown): number => (typeof value === 'number' && Number.isFinite(value) ? value : 0);
  const equivalent = number(photo.FocalLengthIn35mmFilm);
  const side = Math.max(width, height);
  let focalPx = (equivalent / DIAGONAL_MM) * Math.hypot(width, height);
  if (equivalent <= 0) {
    const perUnit = number(photo.FocalPlaneXResolution);
    const unit = UNIT_MM[number(photo.FocalPlaneResolutionUnit) || 2];
    // Since it was taken it may have been made smaller, or turned: the longer side stays the longer one.
    const taken = Math.max(number(photo.PixelXDimension), number(photo.PixelYDimension)) || side;
    if (!unit) return undefined;
    focalPx = number(photo.FocalLength) * (perUnit / unit) * (side / taken);
  }
  return focalPx > SHORTEST * width && focalPx < LONGEST * width ? Math.round(focalPx * 10) / 10 : undefined;
}
