import { Refusal, type ChangeAt, type ShotState } from '../api';

/** One change on its way to the server: given the head that it builds on, it answers with the shot as it then stands. */
export interface Operation {
  readonly label: string;
  /** What it says, so that it can be copied where it cannot be stored. */
  readonly says: unknown;
  /** It means the head that was seen, and no other: it is not tried again where another window was faster. */
  readonly onlyHere?: boolean;
  send(at: ChangeAt): Promise<ShotState>;
  /** Called when it is stored, before the room takes the shot. @param alone nothing that another window did came with it */
  stored?(shot: ShotState, alone: boolean): void;
  /** Called when it is stored, stopped or refused. */
  ended?(stored: boolean): void;
}

export type Storing = 'stored' | 'storing' | 'waiting';

export interface QueueListener {
  /**
   * The server took a change; `idle` when nothing else is on its way. @param alone nothing that another window did
   * came with it
   */
  stored(shot: ShotState, operation: Operation, how: { readonly idle: boolean; readonly alone: boolean }): void;
  /** Long work was stopped before it changed anything. */
  stopped(refusal: Refusal, operation: Operation): void;
  /** A change cannot be made as the shot now stands. What waits behind it is tried all the same. */
  refused(error: Refusal, operation: Operation): void;
  storing(state: Storing): void;
}

const RETRY_MS = 1500;

interface Waiting {
  readonly operation: Operation;
  /** The change's own id: sent again, it is stored once. */
  readonly changeId: string;
  /** False once another window has changed the shot under it. */
  alone: boolean;
}

/**
 * Sends changes one after another, each on the head that the one before it left. While the server or its database is
 * away a change waits
 * and is sent again; where another window was faster it is tried on the head that is there now. Only what cannot be made there is
 * refused, alone.
 */
export class OperationQueue {
  private readonly waiting: Waiting[] = [];
  private running = false;

  constructor(
    private head: number,
    private readonly listener: QueueListener,
  ) {}

  get busy(): boolean {
    return this.running;
  }

  /** Starts anew from another head, when nothing is on its way. */
  moveTo(head: number): void {
    if (!this.running) this.head = head;
  }

  push(operation: Operation): void {
    this.waiting.push({ operation, changeId: crypto.randomUUID(), alone: true });
    if (!this.running) void this.run();
  }

  private async run(): Promise<void> {
    this.running = true;
    this.listener.storing('storing');
    while (this.running) {
      const next = this.waiting[0];
      const { operation, changeId } = next;
      try {
        const shot = await operation.send({ expectedHead: this.head, changeId });
        this.head = shot.head;
        this.next();
        this.listener.stored(shot, operation, { idle: !this.running, alone: next.alone });
      } catch (error) {
        const refusal = error instanceof Refusal ? error : new Refusal(0, 'away', String(error));
        if (refusal.passing) {
          this.listener.storing('waiting');
          await new Promise((done) => setTimeout(done, RETRY_MS));
        } else if (refusal.code === 'moved-on' && refusal.head !== undefined && !operation.onlyHere) {
          this.head = refusal.head;
          for (const waiting of this.waiting) waiting.alone = false;
        } else {
          this.next();
          if (refusal.code === 'stopped') this.listener.stopped(refusal, operation);
          else this.listener.refused(refusal, operation);
        }
      }
    }
  }

  /** Goes on to what waits behind the first, or rests. */
  private next(): void {
    this.waiting.shift();
    if (this.waiting.length > 0) return;
    this.running = false;
    this.listener.storing('stored');
  }
}
