import PQueue from 'p-queue';

/**
 * Does one thing at a time, in the order in which it was asked. Of what only the newest counts, the newer replaces the
 * one that waits.
 */
export class Actor {
  private readonly queue = new PQueue({ concurrency: 1 });
  private readonly waiting = new Map<string, { replaced(): void }>();

  /** Does something when all that was asked before is done. */
  run<T>(work: () => T | Promise<T>): Promise<T> {
    return this.queue.add(async () => work()) as Promise<T>;
  }

  /** The same, unless something newer of this name is asked for before it begins: then undefined. */
  newest<T>(name: string, work: () => T | Promise<T>): Promise<T | undefined> {
    this.waiting.get(name)?.replaced();
    return new Promise((done, failed) => {
      let given = false;
      const mine = {
        replaced: () => {
          given = true;
          done(undefined);
        },
      };
      this.waiting.set(name, mine);
      void this.queue.add(async () => {
        if (given) return;
        this.waiting.delete(name);
        try {
          done(await work());
        } catch (error) {
          failed(error instanceof Error ? error : new Error(String(error)));
        }
      });
    });
  }
}
