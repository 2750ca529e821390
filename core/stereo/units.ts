import { CoreError } from '../error';

/** A screen or print and who looks at it. */
export interface Viewing {
  readonly widthMm: number;
  readonly distanceMm: number;
  readonly eyesMm: number;
  readonly comfortArcmin: number;
}

/** Parallax on the screen in mm: p / width of the picture * width of the screen. */
export function parallaxMm(px: number, widthPx: number, viewing: Viewing): number {
  return (px / widthPx) * viewing.widthMm;
}

/** Angle under which a parallax is seen, arc minutes: 2 atan(p / 2V), with the parallax's sign. */
export function parallaxArcmin(px: number, widthPx: number, viewing: Viewing): number {
  return (2 * Math.atan(parallaxMm(px, widthPx, viewing) / (2 * viewing.distanceMm)) * 180 * 60) / Math.PI;
}

/**
 * Distance from the viewer at which a parallax is seen, mm: Z' = e V / (e - p), by similar triangles. Infinity where the eyes
 * look in parallel; NaN where they would have to look apart.
 */
export function perceivedDistanceMm(px: number, widthPx: number, viewing: Viewing): number {
  const p = parallaxMm(px, widthPx, viewing);
  if (p > viewing.eyesMm) return Number.NaN;
  return p === viewing.eyesMm ? Number.POSITIVE_INFINITY : (viewing.eyesMm * viewing.distanceMm) / (viewing.eyesMm - p);
}

/** Comfortable parallax: within the comfort angle both ways, and behind the screen never wider than the eyes are apart. */
export function comfortPx(widthPx: number, viewing: Viewing): { readonly nearPx: number; readonly farPx: number } {
  const mm = 2 * viewing.distanceMm * Math.tan((viewing.comfortArcmin / 60 / 2) * (Math.PI / 180));
  const toPx = widthPx / viewing.widthMm;
  return { nearPx: -mm * toPx, farPx: Math.min(mm, viewing.eyesMm) * toPx };
}

/** Units in which parallax is shown. */
export const PARALLAX_UNITS = ['px', '%', 'mm', 'arcmin'] as const;
export type ParallaxUnit = (typeof PARALLAX_UNITS)[number];

/** A parallax in px at the picture's width, in another unit. */
export function inUnit(px: number, unit: ParallaxUnit, widthPx: number, viewing: Viewing): number {
  switch (unit) {
    case 'px':
      return px;
    case '%':
      return (px / widthPx) * 100;
    case 'mm':
      return parallaxMm(px, widthPx, viewing);
    case 'arcmin':
      return parallaxArcmin(px, widthPx, viewing);
  }
}

/** The other way round. @throws CoreError `bad-angle` for angles that no parallax has */
export function fromUnit(value: number, unit: ParallaxUnit, widthPx: number, viewing: Viewing): number {
  switch (unit) {
    case 'px':
      return value;
    case '%':
      return (value / 100) * widthPx;
    case 'mm':
      return (value / viewing.widthMm) * widthPx;
    case 'arcmin': {
      if (Math.abs(value) >= 180 * 60)
        throw new CoreError(
          'bad-angle',
          `${value} arcmin is half a turn or more; no parallax is seen under that angle.`,
        );
      return ((2 * viewing.distanceMm * Math.tan((value / 60 / 2) * (Math.PI / 180))) / viewing.widthMm) * widthPx;
    }
  }
}

/** A budget squeezed into comfort about the screen plane; the same one where it fits. */
export function fitIntoComfort(
  budget: { readonly nearPx: number; readonly farPx: number },
  widthPx: number,
  viewing: Viewing,
): { nearPx: number; farPx: number } {
  const comfort = comfortPx(widthPx, viewing);
  const shrink = Math.min(
    1,
    budget.nearPx < 0 ? comfort.nearPx / budget.nearPx : 1,
    budget.farPx > 0 ? comfort.farPx / budget.farPx : 1,
  );
  const down = (v: number): number => Math.trunc(v * shrink * 10) / 10;
  return shrink === 1 ? { ...budget } : { nearPx: down(budget.nearPx), farPx: down(budget.farPx) };
}
