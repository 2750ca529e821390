/**
 * How much of its flow a brush gives: all of it up to where it is soft, nothing at its rim, which is half a pixel
 * beyond its radius.
 * @param distance2 square of the distance from the stroke's middle line, px²
 * @param soft width of what fades, px
 */
export function brushShare(distance2: number, radius: number, soft: number): number {
  const hard = radius - soft;
  if (soft > 0.5 && distance2 <= hard * hard) return 1;
  const distance = Math.sqrt(distance2);
  const edge = Math.min(1, radius + 0.5 - distance);
  if (soft <= 0.5) return edge;
  const s = Math.min(1, (distance - hard) / soft);
  return Math.min(edge, 1 - s * s * (3 - 2 * s));
}
