import type { Place } from '@/core/raster/geometry';
import { placePiece } from '@/core/raster/placePiece';
import type { Mask, Picture8 } from '@/core/raster/picture';
import type { SeenDocument } from '../ways';

/** A brought-in picture as it was fetched: perhaps smaller than it is stored. */
export interface FetchedPiece {
  readonly picture: Picture8;
  readonly fullWidth: number;
}

/** A piece in its place on a layer, made anew when its place or its colours change. */
export class PlacedPiece {
  private key = '';
  private placed: { readonly picture: Picture8; readonly matte: Mask } | undefined;

  constructor(private readonly piece: FetchedPiece) {}

  /** Returns true where it had to be made anew. */
  follow(plate: SeenDocument['plates'][number] | undefined, place: Place, width: number, height: number): boolean {
    if (!plate?.piece) return false;
    const { placement, match } = plate.piece;
    const key = JSON.stringify([placement, match]);
    if (key === this.key) return false;
    this.key = key;
    const smaller = this.piece.fullWidth / this.piece.picture.width;
    const picture = placePiece(
      this.piece.picture,
      { ...placement, scale: placement.scale * smaller },
      { left: place.left, top: place.top, scale: place.scale, width, height },
      match ?? undefined,
    );
    const data = new Uint8Array(width * height);
    for (let i = 0; i < data.length; i++) data[i] = picture.data[i * 4 + 3];
    this.placed = { picture, matte: { width, height, data } };
    return true;
  }

  get picture(): Picture8 | undefined {
    return this.placed?.picture;
  }
  get matte(): Mask | undefined {
    return this.placed?.matte;
  }
}
