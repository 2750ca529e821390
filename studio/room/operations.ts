import type { Choice } from '@/core/matte/choice';
import { Refusal, type ShotState } from '../api';

/** One change on its way to the server: given the head that it builds on, it answers with the shot as it then stands. */
export interface Operation {
  readonly label: string;
  /** The page has already done it to its own copy of this depth: a plate's, or the back plate's (null). */
  readonly done?: { readonly plate: string | null };
  /** It cuts a choice into a plate: one that is planned, or a new one (null). */
  readonly cuts?: { readonly plate: string | null; readonly choice: Choice };
  /** It fills behind this plate, or the back plate (null). */
  readonly fills?: string | null;
  /** The number of the edit of the hand that it stores. */
  readonly hand?: number;
  /** It is long work that can be followed and stopped. */
  readonly long?: boolean;
  /** Called when it is stored, stopped or refused. */
  readonly ended?: () => void;
  /** A plate that appears by it becomes the one in work. */
  readonly picks?: boolean;
  send(head: number): Promise<ShotState>;
}

export type Storing = 'stored' | 'storing' | 'waiting';

interface Listener {
  /** The server took a change; `idle` when nothing else is on its way. */
  stored(shot: ShotState, idle: boolean, operation: Operation): void;
  /** Long work was stopped before it changed anything. What waited behind it goes on. */
  stopped(told: Refusal, operation: Operation): void;
  /** A change was refused for good; `movedOn` where another window was faster. What waited behind it is dropped too: `dropped` are all of them. */
  refused(error: Refusal, movedOn: boolean, dropped: readonly Operation[]): void;
  storing(state: Storing): void;
}

const RETRY_MS = 1500;

/**
 * Sends changes one after another, each on the head that the one before it left. While the server or its database is away a
 * change waits and is tried again, so that nothing is lost; a refusal drops what was built on it.
 */
export class OperationQueue {
  private readonly waiting: Operation[] = [];
  private running = false;

  constructor(
    private head: number,
    private readonly listener: Listener,
  ) {}

  get busy(): boolean {
    return this.running;
  }

  /** Starts anew from another head, when nothing is on its way. */
  moveTo(head: number): void {
    if (!this.running) this.head = head;
  }

  push(operation: Operation): void {
    this.waiting.push(operation);
    if (!this.running) void this.run();
  }

  private async run(): Promise<void> {
    this.running = true;
    this.listener.storing('storing');
    while (this.running) {
      const operation = this.waiting[0];
      try {
        const shot = await operation.send(this.head);
        this.head = shot.head;
        this.next();
        this.listener.stored(shot, !this.running, operation);
      } catch (error) {
        const refusal = error instanceof Refusal ? error : new Refusal(0, 'away', String(error));
        if (refusal.passing) {
          this.listener.storing('waiting');
          await new Promise((done) => setTimeout(done, RETRY_MS));
        } else if (refusal.code === 'stopped') {
          this.next();
          this.listener.stopped(refusal, operation);
        } else {
          const dropped = this.waiting.splice(0);
          this.rest();
          this.listener.refused(refusal, refusal.status === 409, dropped);
        }
      }
    }
  }

  /** Goes on to what waits behind the first, or rests. */
  private next(): void {
    this.waiting.shift();
    if (this.waiting.length === 0) this.rest();
  }

  private rest(): void {
    this.running = false;
    this.listener.storing('stored');
  }
}
