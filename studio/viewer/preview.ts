import { transfer, wrap, type Remote } from 'comlink';
import type { PreviewApi } from '@/compute/preview.worker';

/** The page's renderer in its workers. End it when the room closes. */
export interface Preview {
  readonly remote: Remote<PreviewApi>;
  end(): void;
}

/** Started before a room asked for it. */
let early: Preview | undefined;
let started = false;

/** Starts the workers while the room's own code is on its way; the page's first room takes them. */
export function startEarly(): void {
  if (!started) early = startWorkers();
}

/** The page's renderer; end it when the room closes. */
export function startPreview(): Preview {
  const preview = early ?? startWorkers();
  early = undefined;
  return preview;
}

/** Starts the preview's worker and a second one for the other eye, and introduces them to each other. */
function startWorkers(): Preview {
  started = true;
  const worker = new Worker(new URL('../../compute/preview.worker.ts', import.meta.url), { type: 'module' });
  const second = new Worker(new URL('../../compute/eye.worker.ts', import.meta.url), { type: 'module' });
  const { port1, port2 } = new MessageChannel();
  second.postMessage(port2, [port2]);
  const remote = wrap<PreviewApi>(worker);
  void remote.meet(transfer(port1, [port1]));
  return {
    remote,
    end: () => {
      worker.terminate();
      second.terminate();
    },
  };
}
