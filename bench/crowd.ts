import { randomUUID } from 'node:crypto';
import { Agent, request } from 'node:http';
import { setTimeout as sleep } from 'node:timers/promises';
import sharp from 'sharp';
import { seeded } from '../tests/support/chance';
import { ask, bringIn, withHouse } from './house';
import { ms, row, section } from './report';

const WIDTH = 3000;
const HEIGHT = 2000;
const STROKES_A_SECOND = 1.5;
/** The first seconds are not counted: a server that has just been started is still being compiled. */
const WARM_SECONDS = 8;
const SECONDS = 30;
const chance = seeded(50);

/** A stroke as a hand makes one: thirty points over some 300 px. */
const stroke = (): unknown => {
  const x = 200 + chance() * (WIDTH - 700);
  const y = 200 + chance() * (HEIGHT - 400);
  return {
    kind: 'stroke',
    mode: 'set',
    depth: chance(),
    size: 40,
    hardness: 0.5,
    strength: 0.6,
    pressure: 'none',
    points: Array.from({ length: 30 }, (_, n) => ({ x: x + n * 10, y: y + 60 * Math.sin(n / 4), pressure: 1 })),
  };
};

/** Connections that stay open, and no more code than they need: the crowd shares the machine with the server that it measures. */
const agent = new Agent({ keepAlive: true });

/** Stores a stroke. @returns the shot's new head */
function store(address: string, shot: string, change: unknown): Promise<number> {
  const body = JSON.stringify(change);
  const headers = { 'content-type': 'application/json', 'content-length': Buffer.byteLength(body) };
  return new Promise((resolve, reject) => {
    request(`${address}/api/shots/${shot}/depth/edit`, { method: 'POST', agent, headers }, (answer) => {
      let text = '';
      answer.setEncoding('utf8').on('data', (piece: string) => (text += piece));
      answer.on('end', () => {
        if (answer.statusCode === 200) resolve((JSON.parse(text) as { head: number }).head);
        else reject(new Error(`${answer.statusCode} ${text}`));
      });
    })
      .on('error', reject)
      .end(body);
  });
}

/**
 * An artist at one shot: a stroke is stored when the one before it is. @returns ms from when each stroke was made
 * until it was stored
 */
async function artist(address: string, shot: string): Promise<number[]> {
  let { head } = (await ask<{ shot: { head: number } }>(`${address}/api/shots/${shot}`)).shot;
  const waited: number[] = [];
  const gap = 1000 / STROKES_A_SECOND;
  const begun = performance.now() + chance() * gap;
  for (let n = 0; n < (WARM_SECONDS + SECONDS) * STROKES_A_SECOND; n++) {
    const made = begun + n * gap;
    await sleep(Math.max(0, made - performance.now()));
    head = await store(address, shot, { expectedHead: head, changeId: randomUUID(), edit: stroke() });
    if (n >= WARM_SECONDS * STROKES_A_SECOND) waited.push(performance.now() - made);
  }
  return waited;
}

const part = (sorted: readonly number[], share: number): number =>
  sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))];

/** Ten and fifty artists who paint at the same time, each at a shot of 6 MP. */
export async function benchCrowd(): Promise<void> {
  await withHouse(async (address) => {
    const { id: project } = await ask<{ id: string }>(`${address}/api/projects`, { name: 'Crowd' });
    const picture = await sharp({ create: { width: WIDTH, height: HEIGHT, channels: 3, background: '#687' } })
      .jpeg()
      .toBuffer();
    const shots: string[] = [];
    for (let n = 0; n < 50; n++) shots.push(await bringIn(address, project, `crowd ${n}.jpg`, picture));
    section(
      'A crowd of artists on one server, each at a shot of 6 MP with a stroke and a half a second',
      `${SECONDS} s, after ${WARM_SECONDS} s of warming up; from when a stroke is made until it is stored, strokes that wait for the one before them included`,
    );
    for (const many of [10, 50]) {
      const waited = (await Promise.all(shots.slice(0, many).map((shot) => artist(address, shot)))).flat();
      waited.sort((a, b) => a - b);
      row(`${many} artists, median`, ms(part(waited, 0.5)));
      const most = part(waited, 0.95);
      row('  95 %', ms(most), many === 50 ? { text: 'under 200 ms', met: most < 200 } : undefined);
      row('  slowest', ms(waited[waited.length - 1]));
    }
  });
}
