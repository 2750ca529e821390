import { ZodError } from 'zod';
import { CoreError } from '@/core/error';

/** An error that a page can show: RFC 9457 problem details. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
    this.name = 'Problem';
  }

  static movedOn(head: number): Problem {
    return new Problem(
      409,
      'moved-on',
      'This shot was changed in another window meanwhile. Its newest state is shown now; try again on that.',
      { head },
    );
  }

  static notFound(what: string): Problem {
    return new Problem(404, 'not-found', `${what} does not exist, or no longer.`);
  }
}

const CONNECTION_CODES = new Set(['ECONNREFUSED', 'ECONNRESET', '57P01', '57P02', '57P03', '08006', '08001', '08003']);

/** Turns whatever was thrown into an answer; what nobody foresaw is logged and named as such. */
export function problemResponse(error: unknown): Response {
  const p = asProblem(error);
  if (p.status >= 500 && p.code === 'unforeseen') console.error(error);
  return new Response(
    JSON.stringify({ type: `urn:cork-twin:${p.code}`, title: p.message, status: p.status, code: p.code, ...p.more }),
    {
      status: p.status,
      headers: { 'content-type': 'application/problem+json', 'cache-control': 'no-store' },
    },
  );
}

export function asProblem(error: unknown): Problem {
  if (error instanceof Problem) return error;
  if (error instanceof CoreError) return new Problem(422, error.code, error.message);
  if (error instanceof ZodError) {
    const first = error.issues[0];
    return new Problem(400, 'bad-request', `${first.path.length ? `${first.path.join('.')}: ` : ''}${first.message}`);
  }
  if (isConnectionTrouble(error))
    return new Problem(
      503,
      'database-away',
      'The database does not answer just now. Nothing is lost that was stored; try again in a moment.',
    );
  return new Problem(500, 'unforeseen', 'Something went wrong that nobody foresaw. The server’s log names it.');
}

export function isConnectionTrouble(error: unknown): boolean {
  for (
    let e = error as { code?: unknown; message?: string; cause?: unknown; previous?: unknown } | undefined, n = 0;
    e && n < 5;
    e = (e.cause ?? e.previous) as typeof e, n++
  ) {
    if (typeof e.code === 'string' && CONNECTION_CODES.has(e.code)) return true;
    if (/Connection terminated|timeout exceeded when trying to connect|the database system is/.test(e.message ?? ''))
      return true;
  }
  return false;
}
