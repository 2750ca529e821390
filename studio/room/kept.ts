import equal from 'fast-deep-equal';

/** What is held where the other says the same, so that nothing is drawn anew for it. */
export function kept<T>(held: T, next: T): T {
  return equal(held, next) ? held : next;
}
