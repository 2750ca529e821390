import { Refusal, type ShotState } from '../api';
import { OperationQueue, type Storing } from './operations';

const shot = (head: number): ShotState => ({ head }) as ShotState;

function queue(head: number) {
  const seen = {
    stored: [] as [number, boolean][],
    refused: [] as [string, boolean, string[]][],
    stopped: [] as [string, string][],
    storing: [] as Storing[],
  };
  const q = new OperationQueue(head, {
    stored: (s, idle) => {
      seen.stored.push([s.head, idle]);
    },
    stopped: (told, operation) => {
      seen.stopped.push([told.message, operation.label]);
    },
    refused: (e, movedOn, dropped) => {
      seen.refused.push([e.message, movedOn, dropped.map((o) => o.label)]);
    },
    storing: (s) => {
      seen.storing.push(s);
    },
  });
  return { q, seen };
}
const settle = async (): Promise<void> => {
  for (let n = 0; n < 10; n++) await Promise.resolve();
};

describe('the queue of changes', () => {
  test('sends one after another, each on the head that the one before it left', async () => {
    const { q, seen } = queue(7);
    const heads: number[] = [];
    for (let n = 0; n < 3; n++)
      q.push({
        label: 'x',
        send: (head) => {
          heads.push(head);
          return Promise.resolve(shot(head + 10));
        },
      });
    await settle();
    expect(heads).toEqual([7, 17, 27]);
    expect(seen.stored).toEqual([
      [17, false],
      [27, false],
      [37, true],
    ]);
    expect(seen.storing).toEqual(['storing', 'stored']);
  });

  test('waits while the server is away and sends the same change again', async () => {
    jest.useFakeTimers();
    const { q, seen } = queue(1);
    let away = 2;
    q.push({
      label: 'x',
      send: (head) =>
        away-- > 0 ? Promise.reject(new Refusal(503, 'database-away', 'away')) : Promise.resolve(shot(head + 1)),
    });
    await settle();
    expect(seen.storing.at(-1)).toBe('waiting');
    for (let n = 0; n < 2; n++) await jest.advanceTimersByTimeAsync(1500);
    expect(seen.stored).toEqual([[2, true]]);
    expect(seen.refused).toEqual([]);
    jest.useRealTimers();
  });

  test('a refusal drops what was built on it, and says whether another window was faster', async () => {
    const { q, seen } = queue(1);
    let sent = 0;
    q.push({ label: 'a', send: () => Promise.reject(new Refusal(409, 'moved-on', 'changed elsewhere')) });
    q.push({
      label: 'b',
      send: (head) => {
        sent++;
        return Promise.resolve(shot(head));
      },
    });
    await settle();
    expect(seen.refused).toEqual([['changed elsewhere', true, ['a', 'b']]]);
    expect(sent).toBe(0);
    expect(q.busy).toBe(false);
    q.moveTo(5);
    q.push({ label: 'c', send: (head) => Promise.resolve(shot(head + 1)) });
    await settle();
    expect(seen.stored).toEqual([[6, true]]);
  });

  test('a stop drops the stopped work alone; what waited goes on from the unchanged head', async () => {
    const { q, seen } = queue(3);
    const heads: number[] = [];
    q.push({
      label: 'a cut',
      long: true,
      send: () => Promise.reject(new Refusal(409, 'stopped', 'Stopped. Nothing was changed.')),
    });
    q.push({
      label: 'a name',
      send: (head) => {
        heads.push(head);
        return Promise.resolve(shot(head + 1));
      },
    });
    await settle();
    expect(seen.stopped).toEqual([['Stopped. Nothing was changed.', 'a cut']]);
    expect(heads).toEqual([3]);
    expect(seen.stored).toEqual([[4, true]]);
    expect(seen.refused).toEqual([]);
    expect(q.busy).toBe(false);
  });
});
