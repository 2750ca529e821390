import sharp from 'sharp';
import { CoreError } from '@/core/error';
import type { Size } from '@/core/kind';
import { pictureOfPlanes, type Planes420 } from '@/core/raster/planes420';
import type { Colours } from '@/core/raster/ycbcr';
import type { SeeingHow } from '@/core/recipes';
import { coverWindow } from '@/core/move/coverWindow';
import { unpremultiply } from '@/core/raster/alpha';
import { toEightBits, type Premultiplied, type Straight } from '@/core/raster/picture';
import { sceneOf } from '@/core/scene/sceneOf';
import { atMoment, keyAt } from '@/core/shot/atMoment';
import { carriedName, depthFrom, hidingPlates, plateName } from '@/core/shot/carriedNames';
import { plateKeyAt } from '@/core/shot/plateAtMoment';
import { footageRange, type Footage, type ShotDocument } from '@/core/shot/document';
import { renderView } from '@/core/view/renderView';
import { viewBuffers, type ViewBuffers } from '@/core/stereo/synthesizeView';
import { storedFootage } from '../media/footage/openFootage';
import { pixelsOf } from '../media/pixelsOf';
import { carriedIsThere } from '../shots/carriedRasters';
import { rastersWith } from '../shots/platePixels';
import { MoveShop } from './moveShop';

/** Frames of a shot that moves: each seen by itself, from eyes that stand, or by the camera of a move. */
export class FilmShop {
  /** Largest share of revealed pixels of any view so far. */
  revealedShare = 0;
  private reading: { readonly colours: Colours; readonly frames: AsyncGenerator<Straight> } | undefined;
  /** The frame that is read next. */
  private next = -1;
  private held: Held | undefined;
  /** Where views are drawn, one after another. */
  private room: ViewBuffers<Premultiplied> | undefined;

  constructor(
    private readonly document: ShotDocument,
    private readonly footage: Footage,
  ) {}

  /** What is handed over, first and last frame. */
  get range(): { readonly first: number; readonly last: number } {
    return footageRange(this.footage);
  }

  /** @throws CoreError `not-carried` where depth or a plate is not carried to frames yet */
  requireCarried({ first, last } = this.range): void {
    const { mediaId } = this.document.source;
    const open = (is: (n: number) => boolean): number[] => {
      const frames: number[] = [];
      for (let n = first; n <= last; n++) if (!is(n)) frames.push(n);
      return frames;
    };
    const depth = open(
      (n) => keyAt(this.footage, n) !== undefined || carriedIsThere(carriedName(mediaId, depthFrom(this.document), n)),
    );
    if (depth.length > 0)
      throw new CoreError(
        'not-carried',
        `${depth.length} of ${last - first + 1} frames have no depth yet, the first is frame ${depth[0] + 1}. ` +
          'Carry depth to them in the Depth stage, under Over time, then render again.',
      );
    for (const plate of hidingPlates(this.document.plates)) {
      const frames = open((n) => plateKeyAt(plate, n) !== undefined || carriedIsThere(plateName(mediaId, plate, n)));
      if (frames.length > 0)
        throw new CoreError(
          'not-carried',
          `${plate.name} is not carried to ${frames.length} of ${last - first + 1} frames yet, the first is frame ` +
            `${frames[0] + 1}. Carry it in the Cut stage, under Over time, then render again.`,
        );
    }
  }

  /**
   * What is seen of a frame; the next view is drawn into the same room. Frames are best asked for in order.
   * @param eye null: from the middle
   */
  async see(frame: number, eye: number | null, how: SeeingHow): Promise<Straight> {
    const { document, rasters } = await this.lay(frame, how.colours);
    const { move } = document;
    if (move) return new MoveShop(document, rasters).see(Math.min(frame, move.frames - 1), eye, how);
    const { width, height } = rasters.picture;
    if (this.room?.picture.bits !== rasters.picture.bits) this.room = viewBuffers(rasters.picture);
    const view = renderView(sceneOf(document), rasters, eye ?? 0, { out: this.room });
    this.revealedShare = Math.max(this.revealedShare, view.revealedCount / (width * height));
    return sized(unpremultiply(view.picture, document.source.hasAlpha), how.size);
  }

  /** Luma and colour differences, where the file holds them and no camera's shutter mixes light. */
  async colours(): Promise<Colours> {
    if (this.document.move) return 'rgb';
    return (await storedFootage(this.document.source)).planes ? 'ycbcr' : 'rgb';
  }

  private async lay(frame: number, colours: Colours): Promise<Held> {
    if (this.held?.frame === frame && this.held.colours === colours) return this.held;
    const document = atMoment(this.document, frame, carriedIsThere);
    const rasters = await rastersWith(document, await this.read(frame, colours), colours);
    return (this.held = { frame, colours, document, rasters });
  }

  private async read(frame: number, colours: Colours): Promise<Straight> {
    if (this.next !== frame || this.reading?.colours !== colours) {
      await this.end();
      const file = await storedFootage(this.document.source);
      const { frames } = this.footage;
      this.reading = {
        colours,
        frames: colours === 'ycbcr' ? picturesIn(file.planes!(frame, frames)) : file.frames(frame, frames),
      };
      this.next = frame;
    }
    const { value } = (await this.reading.frames.next()) as IteratorResult<Straight, undefined>;
    if (!value) throw new CoreError('damaged', `Frame ${frame + 1} cannot be read: the file is damaged there.`);
    this.next++;
    return value;
  }

  /** Ends reading. */
  async end(): Promise<void> {
    await this.reading?.frames.return(undefined);
    this.reading = undefined;
  }
}

/** A frame that is laid out, for both eyes. */
interface Held {
  readonly frame: number;
  readonly colours: Colours;
  readonly document: ShotDocument;
  readonly rasters: Awaited<ReturnType<typeof rastersWith>>;
}

/** Pictures of planes, each in the room of the one before it. */
async function* picturesIn(frames: AsyncGenerator<Planes420>): AsyncGenerator<Straight> {
  let room: Uint8Array | undefined;
  for await (const planes of frames) {
    const picture = pictureOfPlanes(planes, room);
    room = picture.data as Uint8Array;
    yield picture;
  }
}

/** As much of a picture as fills a size, from the middle; at its own size it is itself. */
async function sized(picture: Straight, size: Size): Promise<Straight> {
  if (picture.width === size.width && picture.height === size.height) return picture;
  const { window } = coverWindow(picture, size);
  const whole = {
    left: Math.round(window.left),
    top: Math.round(window.top),
    width: Math.min(picture.width, Math.round(size.width / window.scale)),
    height: Math.min(picture.height, Math.round(size.height / window.scale)),
  };
  const { width, height, data } = toEightBits(picture);
  const made = await sharp(data, { raw: { width, height, channels: 4 }, limitInputPixels: false })
    .extract(whole)
    .resize(size.width, size.height, { fit: 'fill', kernel: 'lanczos3' })
    .raw()
    .toBuffer();
  return pixelsOf(made, size, 8);
}
