import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import sharp from 'sharp';
import { PLAIN_EDGE } from '@/core/matte/choice';
import { ask, bringIn, withHouse } from './house';
import { ms, row, section } from './report';

const source = join(__dirname, '../demo/orangery/centre.png');
/** The demo's picture at another size, as a JPEG. */
export const enlarged = (width: number, height: number): Promise<Buffer> =>
  sharp(source).resize(width, height, { fit: 'fill' }).jpeg({ quality: 85 }).toBuffer();

interface Shot {
  readonly head: number;
  readonly document: { readonly plates: readonly { readonly id: string }[] };
}

/** Asks the server for a small shot all the time while something runs. @returns how long that took, and the slowest answer, ms */
async function beside(address: string, small: string, work: () => Promise<unknown>): Promise<[number, number]> {
  let slowest = 0;
  let running = true;
  const asking = (async () => {
    while (running) {
      const began = performance.now();
      await ask(`${address}/api/shots/${small}`);
      slowest = Math.max(slowest, performance.now() - began);
      await sleep(20);
    }
  })();
  const began = performance.now();
  await work().finally(() => {
    running = false;
  });
  const took = performance.now() - began;
  await asking;
  return [took, slowest];
}

/** Strokes that grow the demo's tree, for a picture of some width. */
function treeStrokes(width: number): unknown[] {
  const s = width / 1600;
  const lines = [
    ['in', 280, 340, 520, 340],
    ['in', 400, 225, 420, 480],
    ['in', 330, 735, 480, 735],
    ['out', 100, 90, 1500, 90],
    ['out', 1060, 430, 1540, 500],
    ['out', 60, 270, 100, 805],
    ['out', 600, 760, 1400, 900],
    ['out', 640, 300, 700, 560],
    ['out', 1000, 600, 1500, 600],
  ] as const;
  return lines.map(([side, x0, y0, x1, y1]) => {
    const points = [
      { x: x0 * s, y: y0 * s },
      { x: x1 * s, y: y1 * s },
    ];
    return { side, size: 20 * s, points };
  });
}

/** A shot of 24 MP in work, and what that does to others. */
export async function benchLarge(): Promise<void> {
  await withHouse(async (address) => {
    const { id: project } = await ask<{ id: string }>(`${address}/api/projects`, { name: 'Large' });
    const small = await bringIn(address, project, 'small.jpg', await enlarged(1200, 800));
    const shot = await bringIn(address, project, '24 MP.jpg', await enlarged(6000, 4000));
    const plates = `${address}/api/shots/${shot}/plates`;
    let { head } = (await ask<{ shot: Shot }>(`${address}/api/shots/${shot}`)).shot;
    let document: Shot['document'] = { plates: [] };
    const act = async (url: string, what: unknown): Promise<void> => {
      ({ head, document } = await ask<Shot>(url, { expectedHead: head, act: what }));
    };
    const cut = (name: string, ingredient: unknown): Promise<void> =>
      act(plates, {
        action: 'cut',
        plate: null,
        name,
        spare: true,
        choice: { ingredients: [ingredient], edge: PLAIN_EDGE },
      });
    const box = [
      { x: 3800, y: 1600 },
      { x: 5900, y: 1600 },
      { x: 5900, y: 3300 },
      { x: 3800, y: 3300 },
    ];
    section(
      'A shot of 24 MP, and the slowest answer that somebody else gets meanwhile',
      '6000 x 4000 px; idle but for that',
    );
    const work = async (name: string, run: () => Promise<unknown>, most?: number): Promise<void> => {
      const [took, slowest] = await beside(address, small, run);
      row(name, ms(took), most === undefined ? undefined : { text: `within ${most / 1000} s`, met: took <= most });
      row('  slowest other answer', ms(slowest), { text: 'under 200 ms', met: slowest < 200 });
    };
    const region = { kind: 'region', way: 'add', strokes: treeStrokes(6000) };
    await work('cut by region paint', () => cut('Tree', region), 15_000);
    await work('cut by an outline', () => cut('Table', { kind: 'outline', way: 'add', points: box }));
    await work('filled by texture behind the plates', () =>
      act(`${address}/api/shots/${shot}/fill`, {
        action: 'fill',
        plate: null,
        method: 'texture',
        seeds: [1],
        area: { kind: 'hidden' },
        sample: { kind: 'everywhere' },
      }),
    );
    await work('plates handed out as OpenRaster', async () => {
      const answer = await fetch(`${plates}/export?form=ora`);
      if (!answer.ok) throw new Error(await answer.text());
      // Read away piece by piece, as a browser writes it to disk: gathered here it would hold the asking up, not the server.
      const reader = answer.body!.getReader();
      while (!(await reader.read()).done);
    });
    await work('rendered as a pair', async () => {
      const recipe = { kind: 'pair', packing: 'left-and-right', format: 'png', quality: 90 };
      const { id } = await ask<{ id: string }>(`${address}/api/shots/${shot}/renders`, recipe);
      for (let state = ''; state !== 'done'; await sleep(200)) {
        const { renders } = await ask<{ renders: { id: string; state: string }[] }>(`${address}/api/shots/${shot}`);
        state = renders.find((r) => r.id === id)!.state;
        if (state === 'failed') throw new Error('The render failed.');
      }
    });
    const [plate, other] = document.plates.map(({ id }) => id);
    await work('two plates merged', () => act(plates, { action: 'merge', plate, other }));
  });
}
