import { wrap, type Remote } from 'comlink';
import type { PreviewApi } from '@/compute/preview.worker';

/** The page's renderer in its worker. End it when the room closes. */
export interface Preview { readonly remote: Remote<PreviewApi>; end(): void }

export function startPreview(): Preview {
  const worker = new Worker(new URL('../../compute/preview.worker.ts', import.meta.url), { type: 'module' });
  return { remote: wrap<PreviewApi>(worker), end: () => { worker.terminate(); } };
}
