import { expose } from 'comlink';
import type { Picture8 } from '@/core/raster/picture';
import type { ShotRasters } from '@/core/shot/plates';
import { renderView, type StereoPart } from '@/core/shot/renderView';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';

// Renders the other eye beside the preview worker, on the processor's second core. All pixels lie in shared memory.

const held = new Map<number, { readonly rasters: ShotRasters<Picture8>; readonly out: ViewBuffers<Picture8> }>();

const api = {
  /** Takes what a layer is rendered from, and where its views go. */
  take(layer: number, rasters: ShotRasters<Picture8>, out: ViewBuffers<Picture8>): void { held.set(layer, { rasters, out }); },
  forget(layer: number): void { held.delete(layer); },
  /** Renders a layer and returns the number of revealed pixels. */
  render(layer: number, document: StereoPart, eye: number, scale: number): number {
    const { rasters, out } = held.get(layer)!;
    return renderView(document, rasters, eye, scale, 'fill', out).revealedCount;
  },
};

export type EyeApi = typeof api;

self.addEventListener('message', (e: MessageEvent<MessagePort>) => { expose(api, e.data); }, { once: true });
