import { Worker } from 'node:worker_threads';
import { WANTED, type PulseData, type Wanted } from './wanted';

/** Keeps a render this worker's own while it computes: beats from a thread of its own, and says what the render's people want. */
export class Heart {
  private readonly state = new Int32Array(new SharedArrayBuffer(4));
  private readonly thread: Worker;
  private readonly ended: Promise<void>;

  /** @param path the beating thread's code, bundled */
  constructor(renderId: string, worker: string, path: string) {
    const workerData: PulseData = { renderId, worker, state: this.state };
    this.thread = new Worker(path, { workerData, env: { ...process.env } });
    this.thread.on('error', (error) => {
      console.error(error);
    });
    // Followed from the beginning: a thread that has broken down before it is stopped has ended, too.
    this.ended = new Promise((done) => {
      this.thread.once('exit', () => {
        done();
      });
    });
  }

  /** What the render's people want, as of the last beat. */
  get wanted(): Wanted {
    return WANTED[Atomics.load(this.state, 0)];
  }

  /** Says how far the render is. */
  tell(progress: number, step: string): void {
    this.thread.postMessage({ progress, step });
  }

  /** The last beat was the last. */
  async stop(): Promise<void> {
    this.thread.postMessage('end');
    await this.ended;
  }
}
