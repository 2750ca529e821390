import type { FillAction } from '@/server/shots/fillActions';
import { database } from '@/server/db/orm';
import { readStoredPicture } from '@/server/rasters/pictures';
import { bringIn } from '@/server/shots/bringIn';
import { actOnFill } from '@/server/shots/fills';
import type { ShotState } from '@/server/shots/history';
import { actOnPlates } from '@/server/shots/plates';
import { boxChoice, headOf, pixel, scene } from '../support/scene';

const stage = scene('Half clear');
/** Of every pixel: its own colour, half covered. */
const COLOUR = [200, 100, 50];

/** A picture that is half clear everywhere, with a plate cut from its middle. */
async function begin(): Promise<ShotState> {
  const id = await bringIn(stage.project, await stage.file('clear.png', 200, 120, '#c8643280'), 'clear.png');
  return actOnPlates(
    { id, expectedHead: await headOf(id) },
    { action: 'cut', plate: null, name: 'Box', choice: boxChoice(60, 40, 120, 90), spare: true },
  );
}

const byMachine = (method: 'smooth' | 'texture'): FillAction => ({
  action: 'fill',
  plate: null,
  method,
  seeds: [1],
  area: { kind: 'hidden' },
  sample: { kind: 'everywhere' },
});
const byHand: FillAction = {
  action: 'edit',
  plate: null,
  edit: {
    kind: 'clone',
    points: [{ x: 90, y: 65 }],
    sources: [{ dx: 70, dy: 0 }],
    size: 16,
    hardness: 1,
    strength: 1,
    scale: 1,
    turn: 0,
    flip: false,
    jitter: 0,
    seed: 1,
    seamless: false,
    beyond: false,
  },
};

// A fill is stored in its own colours. Sampled from the plate as it is rendered, multiplied by its alpha, it came out
// half as bright.
test.each([
  ['smoothly', byMachine('smooth')],
  ['with texture', byMachine('texture')],
  ['by a clone stroke', byHand],
])('a half-clear plate is filled in its own colour: %s', async (_name, act) => {
  const s = await begin();
  const { document } = await actOnFill({ id: s.id, expectedHead: s.head }, act);
  const fill = await readStoredPicture(await database(), document.fill!, 8);
  const found = pixel(fill, 90, 65, 4);
  // In 8 premultiplied bits at 128 of 255 a colour is a step off at most, and a step more by rounding back.
  for (let c = 0; c < 3; c++) expect(Math.abs(found[c] - COLOUR[c])).toBeLessThanOrEqual(2);
  expect(found[3]).toBe(255);
});
