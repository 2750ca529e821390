/** An error for people: what happened, to what, and what helps; `code` is stable and for programs. */
export class CoreError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
    this.name = 'CoreError';
  }
}
