import type { LookRequest } from '@/compute/lenses';
import type { Look } from '@/compute/look';
import type { Camera } from './frames';

/** The preview, as the viewer and its tools use it. */
export interface PreviewControl {
  readonly state: 'loading' | 'ready' | { readonly failed: string };
  /** What is to be drawn as the room now stands. */
  request(): LookRequest;
  /** Asks for a new look; while one is being made, one more follows. */
  ask(): void;
  take(look: Look | undefined): void;
  place(camera: Camera): void;
  retry(): void;
}
