// Runs one network once, in a thread of its own that whoever waits may end: what a file of somebody's computes, nobody
// knows beforehand. Bundled into .build/network.mjs.
import { parentPort, workerData } from 'node:worker_threads';
import * as ort from 'onnxruntime-web';

/** What is run. */
export interface SessionOrder {
  readonly path: string;
  readonly dims: readonly number[];
  readonly values: Float32Array;
}

/** What is told of it: how far it is, what it gave, or why it cannot. */
export type SessionTold =
  | { readonly at: 'opened' }
  | { readonly at: 'done'; readonly dims: readonly number[]; readonly values: ArrayLike<number> }
  | { readonly at: 'refused'; readonly code: string; readonly message: string };

const tell = (message: SessionTold): void => parentPort?.postMessage(message);
const refuse = (code: string, message: string): void => {
  tell({ at: 'refused', code, message });
};

/** What the runtime says, in one line. */
const said = (error: unknown): string => (error as Error).message.replace(/^.*ERROR_MESSAGE: /s, '').split('\n')[0];

async function open(path: string): Promise<ort.InferenceSession | undefined> {
  try {
    return await ort.InferenceSession.create(path, { executionProviders: ['wasm'] });
  } catch (error) {
    refuse('network-broken', `It cannot be opened as an ONNX network: ${said(error)}`);
    return undefined;
  }
}

/** Why what goes in does not fit; undefined where it does. */
function mismatch(session: ort.InferenceSession, dims: readonly number[]): string | undefined {
  const { inputMetadata, outputNames } = session;
  if (inputMetadata.length !== 1)
    return `It takes ${inputMetadata.length} inputs; a depth network takes one, the picture.`;
  if (outputNames.length === 0) return 'It gives nothing.';
  const [input] = inputMetadata;
  if (!input.isTensor || input.type !== 'float32')
    return `It takes ${input.isTensor ? input.type : 'something else'}; only float32 goes in.`;
  const { shape } = input;
  // A dimension that has a name, or none, takes any number.
  const fits = shape.length === dims.length && shape.every((d, n) => typeof d !== 'number' || d < 0 || d === dims[n]);
  if (fits) return undefined;
  return `It takes ${shape.join(' × ')} numbers, but what its sidecar says makes ${dims.join(' × ')}. Set width, height and layout to what it takes.`;
}

async function run({ path, dims, values }: SessionOrder): Promise<void> {
  const session = await open(path);
  if (!session) return;
  tell({ at: 'opened' });
  const wrong = mismatch(session, dims);
  if (wrong !== undefined) {
    refuse('network-shape', wrong);
    return;
  }
  try {
    const made = await session.run({ [session.inputNames[0]]: new ort.Tensor('float32', values, dims) });
    const output = made[session.outputNames[0]];
    if (output.type !== 'float32') refuse('network-shape', `It gives ${output.type}; only float32 is understood.`);
    else tell({ at: 'done', dims: output.dims, values: output.data as Float32Array });
  } catch (error) {
    refuse('network-failed', `It stopped while it computed: ${said(error)}`);
  }
}

void run(workerData as SessionOrder);
