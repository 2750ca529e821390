import type { ShotDocument } from '@/core/shot/document';

/** What decides how a shot is laid out in plates, and so what can be filled in where. */
export const layoutOf = ({ source, depth, holePx, plates }: ShotDocument): string =>
  JSON.stringify([source.mediaId, source.moment, depth, holePx, plates.map((p) => [p.id, p.matte, p.depth, p.piece])]);
