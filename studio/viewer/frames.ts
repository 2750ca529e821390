import type { Frame, Look } from '@/compute/look';

/**
 * Where the picture stands in the viewer: css px per full-size px, and the full-size place at the viewer's upper
 * left.
 */
export interface Camera {
  readonly zoom: number;
  readonly x: number;
  readonly y: number;
}

/** A frame that others hold: it is copied. */
export interface ShownFrame {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray;
}

interface Kept {
  readonly canvas: HTMLCanvasElement;
  /** Where it lies, full-size px; undefined while it shows nothing. */
  rect?: { readonly left: number; readonly top: number; readonly right: number; readonly bottom: number };
}

/** Enlarged by more than this, a pixel is seen as a pixel. */
const PIXELATED_FROM = 1.5;
/** So long the picture must rest before it is reduced well, ms. */
const REST_MS = 250;

/**
 * The finished frames of the preview: the whole picture, and the window in detail over it, each in a canvas of its own
 * size that the page
 * scales. So a brush puts its rectangle and nothing else is drawn. When the picture rests below its own size, a well
 * reduced copy is laid
 * over it.
 */
export class FrameStack {
  private readonly kept: readonly Kept[];
  private camera: Camera = { zoom: 1, x: 0, y: 0 };
  private resting: ReturnType<typeof setTimeout> | undefined;
  private changes = 0;
  private played: ImageData | undefined;

  /** @param canvases for the whole picture and for the window in detail @param rest for the well reduced copy */
  constructor(
    canvases: readonly HTMLCanvasElement[],
    private readonly rest: HTMLCanvasElement,
  ) {
    this.kept = canvases.map((canvas) => ({ canvas }));
  }

  /** Takes a look. Returns the room of its frames, to be used again. */
  take({ frames, parts }: Look): ArrayBuffer[] {
    if (parts) frames.forEach((frame) => this.patch(frame));
    else {
      this.kept.forEach((kept, n) => this.show(kept, frames[n]));
      this.place(this.camera);
    }
    this.unsettle();
    return frames.map((frame) => frame.data.buffer);
  }

  /** Shows a frame in place of the whole picture, where that lies. */
  showFrame(frame: ShownFrame | ImageBitmap): void {
    const [{ canvas }, detail] = this.kept;
    detail.canvas.hidden = true;
    const { width, height } = frame;
    if (!('data' in frame)) {
      if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
      canvas.getContext('2d', { willReadFrequently: true })!.drawImage(frame, 0, 0);
      this.place(this.camera);
      return;
    }
    const { data } = frame;
    // An ImageData takes no shared memory.
    if (this.played?.width !== width || this.played.height !== height) this.played = new ImageData(width, height);
    this.played.data.set(data);
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    canvas.getContext('2d', { willReadFrequently: true })!.putImageData(this.played, 0, 0);
    this.unsettle();
  }

  private show(kept: Kept, frame: Frame | undefined): void {
    const { canvas } = kept;
    canvas.hidden = frame === undefined;
    if (!frame) {
      delete kept.rect;
      return;
    }
    const { width, height, left, top, right, bottom } = frame;
    if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
    kept.rect = { left, top, right, bottom };
    put(canvas, frame, 0, 0);
  }

  /** Lays a touched part into the frame of its own scale. */
  private patch(frame: Frame): void {
    const scale = frame.width / (frame.right - frame.left);
    for (const { canvas, rect } of this.kept) {
      if (!rect || Math.abs(canvas.width / (rect.right - rect.left) / scale - 1) >= 0.01) continue;
      put(canvas, frame, Math.round((frame.left - rect.left) * scale), Math.round((frame.top - rect.top) * scale));
      return;
    }
  }

  /** Puts the frames where the camera sees them, on whole pixels of the screen. */
  place(camera: Camera): void {
    this.camera = camera;
    const ratio = globalThis.devicePixelRatio || 1;
    const snap = (v: number): number => Math.round(v * ratio) / ratio;
    for (const { canvas, rect } of this.kept) {
      if (!rect) continue;
      const left = snap((rect.left - camera.x) * camera.zoom);
      const top = snap((rect.top - camera.y) * camera.zoom);
      const right = snap((rect.right - camera.x) * camera.zoom);
      const bottom = snap((rect.bottom - camera.y) * camera.zoom);
      const enlarged = ((right - left) * ratio) / canvas.width;
      Object.assign(canvas.style, {
        transform: `translate(${left}px, ${top}px)`,
        width: `${right - left}px`,
        height: `${bottom - top}px`,
        imageRendering: enlarged >= PIXELATED_FROM || Math.abs(enlarged - 1) < 1e-3 ? 'pixelated' : 'auto',
      });
    }
    this.unsettle();
  }

  /** What is shown has changed: the reduced copy is of the past. */
  private unsettle(): void {
    this.changes++;
    this.rest.hidden = true;
    clearTimeout(this.resting);
    this.resting = setTimeout(() => void this.settle(), REST_MS);
  }

  private async settle(): Promise<void> {
    const [{ canvas, rect }, detail] = this.kept;
    const ratio = globalThis.devicePixelRatio || 1;
    const width = Math.round(Number.parseFloat(canvas.style.width) * ratio);
    const height = Math.round(Number.parseFloat(canvas.style.height) * ratio);
    if (!rect || detail.rect || !(width > 0 && height > 0) || width >= canvas.width) return;
    const { changes } = this;
    const options = { resizeWidth: width, resizeHeight: height, resizeQuality: 'high' } as const;
    const reduced = await createImageBitmap(canvas, options);
    if (changes !== this.changes) return;
    Object.assign(this.rest, { width, height });
    Object.assign(this.rest.style, {
      transform: canvas.style.transform,
      width: canvas.style.width,
      height: canvas.style.height,
    });
    this.rest.getContext('2d')!.drawImage(reduced, 0, 0);
    reduced.close();
    this.rest.hidden = false;
  }

  end(): void {
    clearTimeout(this.resting);
  }
}

function put(canvas: HTMLCanvasElement, { data, width, height }: Frame, x: number, y: number): void {
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  context.putImageData(new ImageData(data, width, height), x, y);
}
