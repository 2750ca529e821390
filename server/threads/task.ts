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

/** What work in a thread tells meanwhile: the share that is done, or a stored picture of how far it is. */
export type Told = { readonly share: number } | { readonly look: string };

/** What runs in a thread: an order of plain data, and what is made of it, small where pixels can be stored instead. */
export type Task<Order, Made> = (order: Order & { readonly progress?: MessagePort }) => Promise<Made | Refused>;

/** Wraps work that runs in a thread: it tells its progress, and what can be seen of it already, where somebody follows it, and a refusal travels back as data. */
export function task<Order, Made extends object>(
  work: (order: Order, onProgress: (share: number) => void, onLook: (revision: string) => void) => Promise<Made>,
): Task<Order, Made> {
  return async ({ progress, ...order }) => {
    try {
      const tell = (message: Told): void => progress?.postMessage(message);
      return await work(
        order as unknown as Order,
        (share) => {
          tell({ share });
        },
        (look) => {
          tell({ look });
        },
      );
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
