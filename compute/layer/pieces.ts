import equal from 'fast-deep-equal';
import { placePiece, type CanvasPlace } from '@/core/raster/placePiece';
import type { Mask, Straight8 } from '@/core/raster/picture';
import type { ScenePlate } from '@/core/scene/sceneOf';

/** A brought-in picture as it was fetched: perhaps smaller than it is stored. */
export interface FetchedPiece {
  readonly picture: Straight8;
  readonly fullWidth: number;
}

/** A piece in its place on a layer, made anew when its place or its colours change. */
export class PlacedPiece {
  private asked: ScenePlate['piece'] | undefined;
  private placed: { readonly picture: Straight8; readonly matte: Mask } | undefined;

  constructor(private readonly piece: FetchedPiece) {}

  /** Returns true where it had to be made anew. @param canvas where the layer lies, and its size */
  follow({ placement, match }: NonNullable<ScenePlate['piece']>, canvas: CanvasPlace): boolean {
    if (placement === this.asked?.placement && match === this.asked.match) return false;
    if (equal({ placement, match }, this.asked)) return false;
    this.asked = { placement, match };
    const smaller = this.piece.fullWidth / this.piece.picture.width;
    const { width, height } = canvas;
    const picture = placePiece(
      this.piece.picture,
      { ...placement, scale: placement.scale * smaller },
      canvas,
      match ?? undefined,
    );
    const data = new Uint8Array(width * height);
    for (let i = 0; i < data.length; i++) data[i] = picture.data[i * 4 + 3];
    this.placed = { picture, matte: { width, height, data } };
    return true;
  }

  get picture(): Straight8 | undefined {
    return this.placed?.picture;
  }
  get matte(): Mask | undefined {
    return this.placed?.matte;
  }
}
