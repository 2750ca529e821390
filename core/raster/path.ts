import type { Point } from './geometry';

/** Where a place lies by a path: how far along it, negative before its beginning, and how far to its right hand, px. */
export interface AlongPath {
  along: number;
  aside: number;
}

interface Piece {
  /** Where the path has come to at its beginning, px. */
  readonly before: number;
  readonly length: number;
  readonly from: Point;
  /** Its direction. */
  readonly ux: number;
  readonly uy: number;
}

/** A path of straight pieces that goes on straight beyond both ends. */
export class Path {
  /** Px; 0 for a path that stays where it is. */
  readonly length: number;
  private readonly pieces: readonly Piece[];

  constructor(points: readonly Point[]) {
    const pieces: Piece[] = [];
    let before = 0;
    for (let n = 1; n < points.length; n++) {
      const from = points[n - 1];
      const dx = points[n].x - from.x;
      const dy = points[n].y - from.y;
      const length = Math.sqrt(dx * dx + dy * dy);
      if (length === 0) continue;
      pieces.push({ before, length, from, ux: dx / length, uy: dy / length });
      before += length;
    }
    this.pieces = pieces;
    this.length = before;
  }

  /** By the piece that is nearest. @param out written and given back */
  locate(x: number, y: number, out: AlongPath): AlongPath {
    const { pieces } = this;
    let least = Infinity;
    for (let n = 0; n < pieces.length; n++) {
      const { before, length, from, ux, uy } = pieces[n];
      const px = x - from.x;
      const py = y - from.y;
      let along = px * ux + py * uy;
      if (n > 0) along = Math.max(0, along);
      if (n < pieces.length - 1) along = Math.min(length, along);
      const ex = px - along * ux;
      const ey = py - along * uy;
      const squared = ex * ex + ey * ey;
      if (squared >= least) continue;
      least = squared;
      out.along = before + along;
      out.aside = Math.sqrt(squared) * (py * ux - px * uy < 0 ? -1 : 1);
    }
    return out;
  }

  /** The place so far along it and to its right hand. */
  at(along: number, aside: number): Point {
    const { pieces } = this;
    let n = 0;
    while (n < pieces.length - 1 && along > pieces[n + 1].before) n++;
    const { before, from, ux, uy } = pieces[n];
    const t = along - before;
    return { x: from.x + t * ux - aside * uy, y: from.y + t * uy + aside * ux };
  }
}
