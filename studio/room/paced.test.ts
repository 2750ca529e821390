import { createStore, type StoreApi } from 'zustand/vanilla';
import type { RoomCore } from './core';
import { paced } from './paced';

const frames: (() => void)[] = [];
beforeEach(() => {
  jest.useFakeTimers();
  frames.length = 0;
  globalThis.requestAnimationFrame = ((frame: () => void) => frames.push(frame)) as never;
});
afterEach(() => {
  jest.useRealTimers();
});

/** A room with a preview, of which only what pacing looks at is filled in; and what its components see. */
function roomOf(preview: unknown = {}) {
  const store = createStore(() => ({
    document: { n: 0 },
    underHand: false,
    looks: 0,
    hover: 0,
    preview,
  })) as unknown as StoreApi<RoomCore>;
  const seen = paced(store) as unknown as StoreApi<{ document: { n: number }; hover: number }>;
  const set = (part: object): void => {
    store.setState(part as Partial<RoomCore>);
  };
  const attempt = (n: number): void => {
    set({ document: { n }, underHand: true });
  };
  return { seen: () => seen.getState().document.n, hover: () => seen.getState().hover, set, attempt };
}

describe('what components see', () => {
  test('follows what is tried after the frame that shows it, however much was tried meanwhile', () => {
    const { seen, set, attempt } = roomOf();
    attempt(1);
    attempt(2);
    expect(seen()).toBe(0);
    set({ looks: 1 });
    expect(seen()).toBe(0);
    frames.forEach((frame) => {
      frame();
    });
    expect(seen()).toBe(0);
    jest.advanceTimersByTime(0);
    expect(seen()).toBe(2);
  });

  test('follows without a picture too, a moment later', () => {
    const { seen, attempt } = roomOf();
    attempt(1);
    jest.advanceTimersByTime(40);
    attempt(2);
    jest.advanceTimersByTime(40);
    expect(seen()).toBe(2);
    attempt(3);
    expect(seen()).toBe(2);
  });

  test('follows at once when the hand lets go, without a preview, and in all else', () => {
    const { seen, hover, set, attempt } = roomOf();
    attempt(1);
    set({ underHand: false });
    expect(seen()).toBe(1);
    set({ hover: 5 });
    expect(hover()).toBe(5);
    set({ document: { n: 2 } });
    expect(seen()).toBe(2);
    const without = roomOf(null);
    without.attempt(1);
    expect(without.seen()).toBe(1);
  });
});
