import type { MessagePort } from 'node:worker_threads';
import { CoreError } from '@/core/error';
import { Problem } from '../http/problem';

/** A refusal as plain data: an error loses its code on the way between threads. */
export interface Refused {
  readonly refused: { readonly status: number; readonly code: string; readonly message: string };
}

/** What runs in a thread: an order of plain data, and what is made of it, small where pixels can be stored instead. */
export type Task<Order, Made> = (order: Order & { readonly told: MessagePort }) => Promise<Made | Refused>;

/** Wraps work that runs in a thread: it tells its progress, and a refusal travels back as data. */
export function task<Order, Made extends object>(
  work: (order: Order, onProgress: (share: number) => void) => Promise<Made>,
): Task<Order, Made> {
  return async ({ told: port, ...order }) => {
    try {
      return await work(order as unknown as Order, (share) => {
        port.postMessage(share);
      });
    } catch (error) {
      if (error instanceof CoreError) return { refused: { status: 422, code: error.code, message: error.message } };
      if (error instanceof Problem)
        return { refused: { status: error.status, code: error.code, message: error.message } };
      throw error;
    } finally {
      port.close();
    }
  };
}
