import { expose } from 'comlink';
import type { DepthMap, Picture8 } from '@/core/raster/picture';
import { renderView, type StereoPart } from '@/core/shot/renderView';
import type { ViewBuffers } from '@/core/stereo/synthesizeView';

// Renders the other eye beside the preview worker, on the processor's second core. All pixels lie in shared memory.

const api = {
  /** Renders into `out` and returns the number of revealed pixels. */
  render(document: StereoPart, picture: Picture8, depth: DepthMap, eye: number, scale: number, out: ViewBuffers<Picture8>): number {
    return renderView(document, picture, depth, eye, scale, 'fill', out).revealedCount;
  },
};

export type EyeApi = typeof api;

self.addEventListener('message', (e: MessageEvent<MessagePort>) => { expose(api, e.data); }, { once: true });
