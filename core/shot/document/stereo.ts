import { z } from 'zod';
import { beginBudget } from '../../stereo/parallax';

const px = z.number().min(-4000).max(4000);

/** Two parallaxes with a number each, px at the source's width. */
export const budgetSchema = z.strictObject({ nearPx: px, farPx: px });

/**
 * Parallax jump between neighbours beyond which the picture tears instead of stretching like rubber, px at the
 * source's width.
 */
export const tearLimit = z.number().min(0.25).max(200);

/** How softly torn edges fade into what was filled, px at the source's width. */
export const tearSoftness = z.number().min(0).max(40);

/** How the two views are made of the picture and its depth. */
export const stereoPart = {
  budget: budgetSchema,
  sourceEye: z.enum(['left', 'centre', 'right']),
  swapEyes: z.boolean(),
  tearPx: tearLimit,
  tearSoftPx: tearSoftness,
  /** Px beside a jump of depth are parted into what stands in front and what lies behind; else they go with the nearer side. */
  partEdges: z.boolean(),
  /** How far lifted plates' holes are pushed out, px; null: by the picture's size. */
  holePx: z.number().min(0).max(100).nullable(),
} as const;

/** The screen or sheet that the shot is judged for, and who looks at it. */
export const viewingSchema = z.strictObject({
  name: z.string().trim().min(1).max(60),
  widthMm: z.number().min(20).max(40000),
  distanceMm: z.number().min(50).max(100000),
  eyesMm: z.number().min(40).max(80),
  comfortArcmin: z.number().min(5).max(240),
});

/** Comfortable beginnings for a source of this width. */
export function beginStereo(width: number) {
  return {
    budget: beginBudget(width),
    sourceEye: 'centre',
    swapEyes: false,
    tearPx: 2,
    tearSoftPx: 0,
    partEdges: true,
    holePx: null,
    viewing: { name: 'Desk screen 24 in', widthMm: 518.4, distanceMm: 650, eyesMm: 65, comfortArcmin: 60 },
  } as const;
}
