'use client';

import { parallaxOf, spanBudget } from '@/core/stereo/parallax';
import { signed } from '../../numbers';
import { useDepth } from './slice';

/** What parallax a depth of the plate in work has, in words. */
export function useParallaxNote(): (depth: number) => string {
  const document = useDepth((s) => s.document);
  const active = useDepth((s) => s.active);
  const span = document.plates.find((p) => p.id === active)?.depth ?? document.depth;
  return (depth) => `${signed(parallaxOf(depth, spanBudget(document.budget, span)), 1)} px`;
}
