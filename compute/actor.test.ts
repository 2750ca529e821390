import { Actor } from './actor';

/** Work that ends when it is told to. */
function gate(): { readonly passed: Promise<void>; open(): void } {
  let open: () => void = () => undefined;
  const passed = new Promise<void>((done) => {
    open = done;
  });
  return { passed, open };
}

describe('an actor', () => {
  test('does one thing at a time, in the order in which it was asked', async () => {
    const actor = new Actor();
    const seen: string[] = [];
    const gates = [gate(), gate(), gate()];
    const all = gates.map(({ passed }, n) =>
      actor.run(async () => {
        seen.push(`${n} begins`);
        await passed;
        seen.push(`${n} ends`);
        return n;
      }),
    );
    // Opened the other way round: the first still ends first.
    for (const { open } of [...gates].reverse()) open();
    expect(await Promise.all(all)).toEqual([0, 1, 2]);
    expect(seen).toEqual(['0 begins', '0 ends', '1 begins', '1 ends', '2 begins', '2 ends']);
  });

  test('of what only the newest counts, the newer replaces the one that waits; what runs is ended', async () => {
    const actor = new Actor();
    const running = gate();
    const drawn: number[] = [];
    const look = (n: number, wait?: Promise<void>) =>
      actor.newest('look', async () => {
        await wait;
        drawn.push(n);
        return n;
      });
    const first = look(1, running.passed);
    await Promise.resolve();
    const others = [look(2), look(3), look(4)];
    running.open();
    expect([await first, ...(await Promise.all(others))]).toEqual([1, undefined, undefined, 4]);
    expect(drawn).toEqual([1, 4]);
  });

  test('different names do not replace each other, and other work keeps its place', async () => {
    const actor = new Actor();
    const seen: string[] = [];
    const say = (text: string) => () => {
      seen.push(text);
      return text;
    };
    const busy = gate();
    void actor.run(() => busy.passed);
    const asked = [
      actor.newest('look', say('old look')),
      actor.newest('reveal', say('reveal')),
      actor.run(say('stroke')),
      actor.newest('look', say('look')),
    ];
    busy.open();
    expect(await Promise.all(asked)).toEqual([undefined, 'reveal', 'stroke', 'look']);
    expect(seen).toEqual(['reveal', 'stroke', 'look']);
  });

  test('goes on after an error, which reaches who asked', async () => {
    const actor = new Actor();
    const failed = actor.run(() => {
      throw new Error('no memory');
    });
    const look = actor.newest('look', () => Promise.reject(new Error('no look')));
    await expect(failed).rejects.toThrow('no memory');
    await expect(look).rejects.toThrow('no look');
    expect(await actor.run(() => 'well')).toBe('well');
  });
});
