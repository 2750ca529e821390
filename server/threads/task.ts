import type { MessagePort } from 'node:worker_threads';
import { asProblem } from '../http/problem';

/** A refusal as plain data: an error loses its code on the way between threads. */
export interface Refused {
  readonly refused: {
    readonly status: number;
    readonly code: string;
    readonly message: string;
    readonly more: Record<string, unknown>;
  };
}

/** What runs in a thread: an order of plain data, and what is made of it, small where pixels can be stored instead. */
export type Task<Order, Made> = (order: Order & { readonly progress?: MessagePort }) => Promise<Made | Refused>;

/** Wraps work that runs in a thread: it tells its progress where somebody follows it, and a refusal travels back as data. */
export function task<Order, Made extends object>(
  work: (order: Order, onProgress: (share: number) => void) => Promise<Made>,
): Task<Order, Made> {
  return async ({ progress, ...order }) => {
    try {
      return await work(order as unknown as Order, (share) => {
        progress?.postMessage(share);
      });
    } catch (error) {
      const { status, code, message, more } = asProblem(error);
      // What nobody foresaw is thrown on, with its stack.
      if (code === 'unforeseen') throw error;
      return { refused: { status, code, message, more } };
    } finally {
      progress?.close();
    }
  };
}
