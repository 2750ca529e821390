import { Problem, problemResponse } from './problem';

/** Names under which this server is our own. */
export function ownHosts(): string[] {
  const port = process.env.CORK_PORT ?? process.env.PORT ?? '3000';
  return [`127.0.0.1:${port}`, `localhost:${port}`];
}

/**
 * Refuses what does not come from our own page: another Host (a name bound to 127.0.0.1 from outside) or another Origin
 * (a page somewhere else that sends requests here).
 */
export function requireOwnOrigin(headers: Headers): void {
  const hosts = ownHosts();
  const host = headers.get('host') ?? '';
  if (!hosts.includes(host))
    throw new Problem(
      403,
      'foreign-host',
      `This server answers to ${hosts.join(' and ')} only, not to ${host || 'a request without a host'}.`,
    );
  const origin = headers.get('origin');
  if (origin !== null && !hosts.some((h) => origin === `http://${h}`))
    throw new Problem(403, 'foreign-origin', 'Requests from other sites are refused.');
  if (headers.get('sec-fetch-site') === 'cross-site')
    throw new Problem(403, 'foreign-origin', 'Requests from other sites are refused.');
}

type Handler<C> = (request: Request, context: C) => Promise<Response>;

/** Wraps a route handler: origin check first, and every error becomes a problem answer. */
export function route<C>(handler: Handler<C>): Handler<C> {
  return async (request, context) => {
    try {
      requireOwnOrigin(request.headers);
      return await handler(request, context);
    } catch (error) {
      return problemResponse(error);
    }
  };
}

/** Most bytes of a JSON body. */
const JSON_BYTES = 4_000_000;

/**
 * The body as JSON of at most 4 MB; a sentence where it is not. What is larger is not read to its end. @throws Problem
 * `too-large`, `bad-request`
 */
export async function readJson(request: Request): Promise<unknown> {
  const tooLarge = new Problem(413, 'too-large', 'The request is larger than 4 MB.');
  if (Number(request.headers.get('content-length') ?? 0) > JSON_BYTES) throw tooLarge;
  const parts: Uint8Array[] = [];
  let bytes = 0;
  for await (const part of (request.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    bytes += part.length;
    // Leaving the loop ends the stream: the rest is never taken.
    if (bytes > JSON_BYTES) throw tooLarge;
    parts.push(part);
  }
  try {
    return JSON.parse(Buffer.concat(parts).toString('utf8')) as unknown;
  } catch {
    throw new Problem(400, 'bad-request', 'The request is not JSON.');
  }
}
