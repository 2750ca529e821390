import type { Frame, Look } from '@/compute/ways';

interface Kept {
  readonly canvas: HTMLCanvasElement;
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Where the picture stands in the viewer: css px per full-size px, and the full-size place at the viewer's upper left. */
export interface Camera {
  readonly zoom: number;
  readonly x: number;
  readonly y: number;
}

/** The finished frames of the preview, kept as canvases and laid over one another. */
export class FrameStack {
  private readonly kept: Kept[] = [];

  /** Takes a whole look; what it does not bring is dropped. */
  take(look: Look): void {
    look.frames.forEach((frame, n) => {
      const kept = (this.kept[n] ??= {
        canvas: document.createElement('canvas'),
        left: 0,
        top: 0,
        right: 0,
        bottom: 0,
      });
      if (kept.canvas.width !== frame.width || kept.canvas.height !== frame.height)
        Object.assign(kept.canvas, { width: frame.width, height: frame.height });
      Object.assign(kept, { left: frame.left, top: frame.top, right: frame.right, bottom: frame.bottom });
      put(kept, frame, 0, 0);
    });
    this.kept.length = look.frames.length;
  }

  /** Takes touched parts: each belongs to the frame of its own scale. */
  patch(frames: readonly Frame[]): void {
    for (const frame of frames) {
      const scale = frame.width / (frame.right - frame.left);
      const kept = this.kept.find((k) => Math.abs(k.canvas.width / (k.right - k.left) / scale - 1) < 0.01);
      if (kept)
        put(kept, frame, Math.round((frame.left - kept.left) * scale), Math.round((frame.top - kept.top) * scale));
    }
  }

  draw(target: HTMLCanvasElement, camera: Camera, ratio: number): void {
    const context = target.getContext('2d')!;
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.clearRect(0, 0, target.width, target.height);
    for (const { canvas, left, top, right, bottom } of this.kept) {
      const perPixel = (camera.zoom * ratio * (right - left)) / canvas.width;
      // Enlarged, a pixel shall be seen as a pixel.
      context.imageSmoothingEnabled = perPixel < 1.5;
      context.imageSmoothingQuality = 'high';
      const x0 = Math.round((left - camera.x) * camera.zoom * ratio);
      const y0 = Math.round((top - camera.y) * camera.zoom * ratio);
      const x1 = Math.round((right - camera.x) * camera.zoom * ratio);
      const y1 = Math.round((bottom - camera.y) * camera.zoom * ratio);
      context.drawImage(canvas, x0, y0, x1 - x0, y1 - y0);
    }
  }
}

function put(kept: Kept, frame: Frame, x: number, y: number): void {
  kept.canvas.getContext('2d')!.putImageData(new ImageData(frame.data, frame.width, frame.height), x, y);
}
