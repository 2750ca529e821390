import { LRUCache } from 'lru-cache';

/** Frames that are kept decoded, the newest used: a few seconds both ways at 960 px. */
const KEPT = 96;
/** So many are fetched at a time. */
const AT_ONCE = 4;

/**
 * The small pictures of a footage's frames, fetched and decoded beside the page, kept both ways of the frame that is
 * seen.
 */
export class ProxyFrames {
  private readonly kept = new LRUCache<number, ImageBitmap>({
    max: KEPT,
    dispose: (bitmap) => {
      bitmap.close();
    },
  });
  private readonly coming = new Map<number, Promise<ImageBitmap | undefined>>();
  private ended = false;

  /** @param isMade says of a frame whether its small picture is there to be fetched */
  constructor(
    private readonly address: (frame: number) => string,
    private readonly isMade: (frame: number) => boolean,
  ) {}

  /** A frame that is there already. */
  have(frame: number): ImageBitmap | undefined {
    return this.kept.get(frame);
  }

  /** A frame, once it has come; undefined where it is not made yet, or cannot be fetched. */
  get(frame: number): Promise<ImageBitmap | undefined> {
    const have = this.kept.get(frame);
    if (have) return Promise.resolve(have);
    if (!this.isMade(frame)) return Promise.resolve(undefined);
    let comes = this.coming.get(frame);
    if (!comes) {
      comes = this.fetch(frame).finally(() => this.coming.delete(frame));
      this.coming.set(frame, comes);
    }
    return comes;
  }

  /** Fetches frames that will be wanted, the first ones first; returns when it is best asked again. */
  async ahead(frames: readonly number[]): Promise<void> {
    const missing = frames.filter((frame) => !this.kept.has(frame) && this.isMade(frame)).slice(0, AT_ONCE);
    await Promise.all(missing.map((frame) => this.get(frame)));
  }

  private async fetch(frame: number): Promise<ImageBitmap | undefined> {
    try {
      const answer = await fetch(this.address(frame));
      if (!answer.ok) return undefined;
      const bitmap = await createImageBitmap(await answer.blob());
      if (this.ended) {
        bitmap.close();
        return undefined;
      }
      this.kept.set(frame, bitmap);
      return bitmap;
    } catch {
      // The server is away for a moment: it is asked again when the frame is wanted again.
      return undefined;
    }
  }

  end(): void {
    this.ended = true;
    this.kept.clear();
  }
}
