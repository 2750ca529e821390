import { basename, join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { fitToEdges } from '@/core/depth/fitToEdges';
import { fromOutput } from '@/core/depth/network/fromOutput';
import { inputDims, type Sidecar } from '@/core/depth/network/sidecar';
import { toInput } from '@/core/depth/network/toInput';
import { toDepthMap } from '@/core/depth/toDepthMap';
import { CoreError } from '@/core/error';
import { enlargePlane } from '@/core/raster/enlargePlane';
import type { DepthMap, Picture8 } from '@/core/raster/picture';
import { bundlesDir } from '../config';
import { Problem } from '../http/problem';
import { readSidecar } from './networks';
import type { SessionOrder, SessionTold } from './session';

/** How a network's map is finished, and followed. */
interface HowToRun {
  /** How closely it is fitted to the picture's edges, 0 to 1. */
  readonly edges: number;
  /** @default nobody follows it */
  readonly onProgress?: (share: number) => void;
}

/** How far it is: a runtime says nothing while it computes. */
const OPENED = 0.3;
const COMPUTED = 0.9;

/**
 * A depth map by a network of the user's own.
 * @param path an .onnx file with its sidecar beside it
 * @throws Problem by the file's name: `no-sidecar`, `wrong-sidecar`, `network-large`, `network-broken`,
 * `network-shape`,
 * `network-values`, `network-failed`, `network-endless`
 */
export async function runNetwork(
  path: string,
  picture: Picture8,
  { edges, onProgress = () => undefined }: HowToRun,
): Promise<DepthMap> {
  const sidecar = await readSidecar(path);
  onProgress(0.05);
  try {
    const { dims, values } = await inSession(path, sidecar, picture, () => {
      onProgress(OPENED);
    });
    onProgress(COMPUTED);
    const small = fromOutput(values, dims, sidecar);
    const depth = enlargePlane(small.depth, small, picture);
    fitToEdges(depth, picture, { edges, from: small.width });
    return toDepthMap(picture, depth);
  } catch (error) {
    if (error instanceof CoreError) throw new Problem(422, error.code, `${basename(path)}: ${error.message}`);
    throw error;
  }
}

type Done = Extract<SessionTold, { at: 'done' }>;

function inSession(path: string, sidecar: Sidecar, picture: Picture8, onOpened: () => void): Promise<Done> {
  const { seconds } = sidecar;
  const order: SessionOrder = { path, dims: inputDims(sidecar), values: toInput(picture, sidecar) };
  const worker = new Worker(join(bundlesDir(), 'network.mjs'), { workerData: order });
  let clock: NodeJS.Timeout | undefined;
  const answer = new Promise<Done>((done, failed) => {
    worker.on('message', (message: SessionTold) => {
      if (message.at === 'opened') onOpened();
      else if (message.at === 'done') done(message);
      else failed(new CoreError(message.code, message.message));
    });
    worker.on('error', (error) => {
      failed(new CoreError('network-failed', `It stopped while it computed: ${error.message}`));
    });
    worker.on('exit', () => {
      failed(new CoreError('network-failed', 'It ended without a word; it may need more memory than there is.'));
    });
    clock = setTimeout(() => {
      failed(
        new CoreError(
          'network-endless',
          `It was ended after ${seconds} s without an answer. Where it only needs longer, set "seconds" in its sidecar.`,
        ),
      );
    }, seconds * 1000);
  });
  return answer.finally(() => {
    clearTimeout(clock);
    void worker.terminate();
  });
}
