/** What the beating thread is given. */
export interface PulseData {
  readonly renderId: string;
  readonly worker: string;
  /** Shared: what the render's people want of it, as its place in the list below. */
  readonly state: Int32Array;
}

export const WANTED = ['go on', 'stop', 'not mine'] as const;
export type Wanted = (typeof WANTED)[number];
