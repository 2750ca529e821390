import { Refusal, type ShotState } from '../api';
import { OperationQueue, type Storing } from './operations';

const shot = (head: number): ShotState => ({ head }) as ShotState;

function queue(head: number) {
  const seen = {
    stored: [] as [number, boolean, boolean][],
    refused: [] as [string, string][],
    stopped: [] as [string, string][],
    storing: [] as Storing[],
  };
  const q = new OperationQueue(head, {
    stored: (s, _operation, { idle, alone }) => {
      seen.stored.push([s.head, idle, alone]);
    },
    stopped: (refusal, operation) => {
      seen.stopped.push([refusal.message, operation.label]);
    },
    refused: (error, operation) => {
      seen.refused.push([operation.label, error.message]);
    },
    storing: (s) => {
      seen.storing.push(s);
    },
  });
  const sent: { readonly label: string; readonly head: number; readonly changeId: string }[] = [];
  /** Sends a change that is answered by `answer`, which is told how often it was asked before. */
  const push = (
    label: string,
    answer: (head: number, before: number) => Promise<ShotState>,
    onlyHere = false,
  ): void => {
    let before = 0;
    q.push({
      label,
      says: label,
      onlyHere,
      send: ({ expectedHead, changeId }) => {
        sent.push({ label, head: expectedHead, changeId });
        return answer(expectedHead, before++);
      },
    });
  };
  return { q, seen, sent, push };
}
const no = (status: number, code: string, message: string, head?: number): Promise<never> =>
  Promise.reject(new Refusal(status, code, message, head));
const settle = async (): Promise<void> => {
  for (let n = 0; n < 10; n++) await Promise.resolve();
};

describe('the queue of changes', () => {
  test('sends one after another, each on the head that the one before it left', async () => {
    const { seen, sent, push } = queue(7);
    for (let n = 0; n < 3; n++) push('x', (head) => Promise.resolve(shot(head + 10)));
    await settle();
    expect(sent.map(({ head }) => head)).toEqual([7, 17, 27]);
    expect(seen.stored).toEqual([
      [17, false, true],
      [27, false, true],
      [37, true, true],
    ]);
    expect(seen.storing).toEqual(['storing', 'stored']);
  });

  test('waits while the server is away and sends the same change again, under the same id', async () => {
    jest.useFakeTimers();
    const { seen, sent, push } = queue(1);
    push('x', (head, before) => (before < 2 ? no(503, 'database-away', 'away') : Promise.resolve(shot(head + 1))));
    await settle();
    expect(seen.storing.at(-1)).toBe('waiting');
    for (let n = 0; n < 2; n++) await jest.advanceTimersByTimeAsync(1500);
    expect(seen.stored).toEqual([[2, true, true]]);
    expect(seen.refused).toEqual([]);
    expect(new Set(sent.map(({ changeId }) => changeId)).size).toBe(1);
    jest.useRealTimers();
  });

  test('where another window was faster, what waits is tried on the new head, under the same ids; nothing is lost', async () => {
    const { seen, sent, push } = queue(1);
    push('a', (head) => (head === 1 ? no(409, 'moved-on', 'changed elsewhere', 5) : Promise.resolve(shot(head + 1))));
    push('b', (head) => Promise.resolve(shot(head + 1)));
    await settle();
    expect(sent.map(({ label, head }) => [label, head])).toEqual([
      ['a', 1],
      ['a', 5],
      ['b', 6],
    ]);
    expect(sent[0].changeId).toBe(sent[1].changeId);
    expect(seen.stored).toEqual([
      [6, false, false],
      [7, true, false],
    ]);
    expect(seen.refused).toEqual([]);
  });

  test('only what cannot be made there is refused, by name; an undo means the head that was seen', async () => {
    const { q, seen, push } = queue(1);
    push('paint', () => no(404, 'not-found', 'This plate does not exist, or no longer.'));
    push('Undo', () => no(409, 'moved-on', 'changed elsewhere', 5), true);
    push('budget', (head) => Promise.resolve(shot(head + 1)));
    await settle();
    expect(seen.refused).toEqual([
      ['paint', 'This plate does not exist, or no longer.'],
      ['Undo', 'changed elsewhere'],
    ]);
    expect(seen.stored).toEqual([[2, true, true]]);
    expect(q.busy).toBe(false);
  });

  test('a stop drops the stopped work alone; what waited goes on from the unchanged head', async () => {
    const { q, seen, sent, push } = queue(3);
    push('a cut', () => no(409, 'stopped', 'Stopped. Nothing was changed.'));
    push('a name', (head) => Promise.resolve(shot(head + 1)));
    await settle();
    expect(seen.stopped).toEqual([['Stopped. Nothing was changed.', 'a cut']]);
    expect(sent.map(({ head }) => head)).toEqual([3, 3]);
    expect(seen.stored).toEqual([[4, true, true]]);
    expect(q.busy).toBe(false);
  });
});
