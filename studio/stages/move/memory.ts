/** A frame in memory that the page and its workers share. */
export interface HeldFrame {
  /** What it was made of. */
  readonly version: string;
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

/** Most that rendered frames may take, bytes. */
const MOST_BYTES = 640 << 20;

/** Rendered frames of a move. When they are too many, those that are played last go. */
export class FrameMemory {
  private readonly frames = new Map<number, HeldFrame>();
  private bytes = 0;

  constructor(private readonly most = MOST_BYTES) {}

  get(frame: number): HeldFrame | undefined {
    return this.frames.get(frame);
  }

  /** @param needle the frame that is played now: those just before it are played last */
  put(frame: number, held: HeldFrame, needle: number, count: number): void {
    this.drop(frame);
    this.frames.set(frame, held);
    this.bytes += held.data.byteLength;
    while (this.bytes > this.most && this.frames.size > 1) {
      let last = frame;
      let farthest = -1;
      for (const n of this.frames.keys()) {
        const ahead = (n - needle + count) % count;
        if (n !== frame && ahead > farthest) [last, farthest] = [n, ahead];
      }
      this.drop(last);
    }
  }

  /** Whether one more frame like the last would push out one that is played sooner. */
  get full(): boolean {
    const [any] = this.frames.values();
    return any !== undefined && this.bytes + any.data.byteLength > this.most;
  }

  private drop(frame: number): void {
    const held = this.frames.get(frame);
    if (!held) return;
    this.frames.delete(frame);
    this.bytes -= held.data.byteLength;
  }

  clear(): void {
    this.frames.clear();
    this.bytes = 0;
  }
}
