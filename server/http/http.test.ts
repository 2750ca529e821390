import { z } from 'zod';
import { CoreError } from '@/core/error';
import { attachment } from './download';
import { ownHosts, readJson, requireOwnOrigin, route } from './guard';
import { idOf, windowOf } from './params';
import { asProblem, Problem, problemResponse } from './problem';

const ourHeaders = (more: Record<string, string> = {}): Headers => new Headers({ host: ownHosts()[0], ...more });

describe('where a request comes from', () => {
  test('our own page, by both its names, and programs without an origin are let in', () => {
    for (const host of ownHosts())
      expect(() => {
        requireOwnOrigin(new Headers({ host, origin: `http://${host}` }));
      }).not.toThrow();
    expect(() => {
      requireOwnOrigin(ourHeaders({ 'sec-fetch-site': 'same-origin' }));
    }).not.toThrow();
  });
  test.each([
    ['another name for this machine', new Headers({ host: 'evil.example:3000' }), 'foreign-host'],
    ['no host', new Headers(), 'foreign-host'],
    ['another site', ourHeaders({ origin: 'http://evil.example' }), 'foreign-origin'],
    ['our address with another scheme', ourHeaders({ origin: `https://${ownHosts()[0]}` }), 'foreign-origin'],
    ['a page of no origin', ourHeaders({ origin: 'null' }), 'foreign-origin'],
    ['a picture tag elsewhere', ourHeaders({ 'sec-fetch-site': 'cross-site' }), 'foreign-origin'],
  ])('%s is refused', (_what, headers, code) => {
    let thrown: unknown;
    try {
      requireOwnOrigin(headers);
    } catch (e) {
      thrown = e;
    }
    expect(thrown).toMatchObject({ status: 403, code });
  });
  test('a route answers with the problem before its work begins', async () => {
    const work = jest.fn(() => Promise.resolve(new Response('done')));
    const guarded = route(work);
    const answer = await guarded(new Request('http://x/', { headers: { host: 'evil.example' } }), {});
    expect([answer.status, work.mock.calls.length]).toEqual([403, 0]);
  });
});

describe('what went wrong becomes an answer', () => {
  test.each([
    ['a refusal of the core', new CoreError('no-hole', 'There is nothing to fill.'), 422, 'no-hole'],
    ['a problem', Problem.notFound('This shot'), 404, 'not-found'],
    ['another window was faster', Problem.movedOn(7), 409, 'moved-on'],
    ['the database gone', Object.assign(new Error('x'), { code: 'ECONNREFUSED' }), 503, 'database-away'],
    [
      'the database gone, said two causes deep',
      new Error('a', { cause: new Error('b', { cause: Object.assign(new Error('c'), { code: '57P01' }) }) }),
      503,
      'database-away',
    ],
    ['a connection that ended', new Error('Connection terminated unexpectedly'), 503, 'database-away'],
    ['something else', new TypeError('x is not a function'), 500, 'unforeseen'],
  ])('%s', (_what, error, status, code) => {
    expect(asProblem(error)).toMatchObject({ status, code });
  });

  test('values that do not fit are named by where they stand', () => {
    const bad = z.strictObject({ act: z.strictObject({ size: z.number().min(1) }) }).safeParse({ act: { size: 0 } });
    expect(asProblem(bad.error)).toMatchObject({
      status: 400,
      code: 'bad-request',
      message: expect.stringMatching(/^act\.size: /),
    });
  });

  test('as problem details (RFC 9457): its type, its status, its sentence and what belongs to it', async () => {
    const answer = problemResponse(Problem.movedOn(12));
    expect([answer.status, answer.headers.get('content-type'), answer.headers.get('cache-control')]).toEqual([
      409,
      'application/problem+json',
      'no-store',
    ]);
    expect(await answer.json()).toMatchObject({
      type: 'urn:cork-twin:moved-on',
      status: 409,
      code: 'moved-on',
      head: 12,
      title: expect.stringContaining('another window'),
    });
  });

  test('nothing of an unforeseen error reaches the page; the log names it', async () => {
    const log = jest.spyOn(console, 'error').mockImplementation(() => undefined);
    const secret = new Error('password=hunter2');
    expect(await problemResponse(secret).text()).not.toContain('hunter2');
    expect(log).toHaveBeenCalledWith(secret);
    log.mockRestore();
  });
});

describe('what a request says', () => {
  const ask = (query: string) => windowOf(`http://x/?${query}`, { width: 100, height: 80 });
  test('a window within the picture is taken as it is', () => {
    expect(ask('left=10&top=0&right=100&bottom=80&width=45&height=40')).toEqual({
      left: 10,
      top: 0,
      right: 100,
      bottom: 80,
      width: 45,
      height: 40,
    });
  });
  test.each([
    'left=-1&top=0&right=10&bottom=10&width=5&height=5',
    'left=0&top=0&right=101&bottom=10&width=5&height=5',
    'left=10&top=0&right=10&bottom=10&width=5&height=5',
    'left=0&top=0&right=10&bottom=10&width=11&height=5',
    'left=0&top=0&right=10&bottom=10&width=0&height=5',
    'left=0.5&top=0&right=10&bottom=10&width=5&height=5',
    'left=0&top=0&right=10&bottom=10',
  ])('%s is refused', (query) => {
    let thrown: unknown;
    try {
      ask(query);
    } catch (e) {
      thrown = e;
    }
    expect(asProblem(thrown).status).toBe(400);
  });
  test('an id that is none names nothing', async () => {
    await expect(idOf({ params: Promise.resolve({ id: '../etc' }) })).rejects.toMatchObject({ status: 404 });
    expect(await idOf({ params: Promise.resolve({ id: '0f8fad5b-d9cb-469f-a165-70867728950e' }) })).toBe(
      '0f8fad5b-d9cb-469f-a165-70867728950e',
    );
  });
  test('a body that is no JSON, or too large, is refused by what it is', async () => {
    const body = (text: string) => readJson(new Request('http://x/', { method: 'POST', body: text }));
    expect(await body('{"a": 1}')).toEqual({ a: 1 });
    await expect(body('{"a":')).rejects.toMatchObject({ status: 400 });
    await expect(body(`"${'x'.repeat(4_000_001)}"`)).rejects.toMatchObject({ status: 413, code: 'too-large' });
  });
  test('a body that never ends is not read to its end, whatever length it says', async () => {
    let given = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull(to) {
        given += 1_000_000;
        to.enqueue(new Uint8Array(1_000_000).fill(32));
      },
    });
    const request = new Request('http://x/', { method: 'POST', body: endless, duplex: 'half' } as RequestInit);
    await expect(readJson(request)).rejects.toMatchObject({ status: 413, code: 'too-large' });
    // 4 MB, the part that went over them, and what the stream had ready.
    expect(given).toBeLessThanOrEqual(7_000_000);
    const said = new Request('http://x/', { method: 'POST', body: '{}', headers: { 'content-length': '5000000' } });
    await expect(readJson(said)).rejects.toMatchObject({ status: 413 });
  });
  test('a file’s name goes out in both spellings (RFC 6266) and cannot break the header', () => {
    expect(attachment('Küche "1".png')).toBe(
      'attachment; filename="K_che _1_.png"; filename*=UTF-8\'\'K%C3%BCche%20%221%22.png',
    );
    expect(attachment('a\r\nset-cookie: x')).not.toMatch(/[\r\n]/);
  });
});
