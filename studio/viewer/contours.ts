/** A round step of parallax, px, that gives some 40 contours over all depth. */
export function contourStep({ nearPx, farPx }: { readonly nearPx: number; readonly farPx: number }): number {
  const rough = Math.max(0.01, Math.abs(farPx - nearPx) / 40);
  const power = 10 ** Math.floor(Math.log10(rough));
  return [1, 2, 5, 10].map((m) => m * power).find((step) => step >= rough) ?? 10 * power;
}
