import { expect, test } from '@playwright/test';
import { PLAIN_EDGE } from '../../core/matte/choice';
import { drag, look, newLook, openShot, place, ready, shotOf, stage, stored, undoAll, watch } from './room';

type Filled = Awaited<ReturnType<typeof shotOf>> & {
  document: {
    fill: string | null;
    frame: { left: number; width: number } | null;
    source: { width: number };
    plates: unknown[];
  };
};

test('what is uncovered is counted, looked behind, filled by machine and by hand, and the border extended', async ({
  page,
}) => {
  test.setTimeout(240_000);
  const errors = watch(page);
  const id = await openShot(page);
  const state = async (): Promise<Filled> => (await shotOf(page, id)) as Filled;
  const left = (name: string) => page.locator('.ct-left').getByRole('button', { name, exact: true }).click();
  await stage(page, 'Fill');
  await expect(page.getByText('No plate is cut yet.')).toBeVisible();
  await stage(page, 'Cut');
  for (const [u, v] of [
    [0.12, 0.3],
    [0.32, 0.3],
    [0.32, 0.95],
    [0.12, 0.95],
  ]) {
    const p = await place(page, u, v);
    await page.mouse.click(p.x, p.y);
  }
  await page.keyboard.press('Enter');
  await page.getByLabel('Name of the plate').fill('Tub');
  await page.getByRole('button', { name: 'Cut Tub' }).click();
  await expect(page.getByRole('group', { name: 'Tub', exact: true })).toBeVisible();
  await stored(page);
  // The plate is brought well before the ground, so that the eyes look behind it.
  await page.getByRole('group', { name: 'Tub', exact: true }).focus();
  for (let n = 0; n < 3; n++) await page.keyboard.press('Shift+ArrowDown');
  await stored(page);
  await page.getByRole('group', { name: 'Back plate', exact: true }).click({ position: { x: 60, y: 10 } });
  await stage(page, 'Fill');
  const list = page.getByRole('list', { name: 'What is uncovered' });
  await expect(list).toContainText(/px open/);
  const marked = await look(page);
  await page.keyboard.down('v');
  const aside = await newLook(page, marked);
  await page.keyboard.up('v');
  await newLook(page, aside);
  await left('Fill');
  await page.getByLabel('Proposals', { exact: true }).first().fill('2');
  await page.getByRole('button', { name: 'Fill the back plate' }).click();
  await expect(page.getByRole('button', { name: 'Soft' })).toBeVisible();
  await stored(page);
  const first = (await state()).document.fill;
  expect(first).not.toBeNull();
  await page.getByRole('button', { name: 'Soft' }).click();
  await stored(page);
  expect((await state()).document.fill).not.toBe(first);
  await left('What is uncovered');
  await expect(list).toContainText('all filled');

  await left('Clone');
  await drag(page, await place(page, 0.2, 0.6), await place(page, 0.24, 0.6));
  await expect(page.getByText('Pick where to copy from first')).toBeVisible();
  const source = await place(page, 0.6, 0.85);
  await page.keyboard.down('Alt');
  await page.mouse.click(source.x, source.y);
  await page.keyboard.up('Alt');
  const before = (await state()).document.fill;
  // With the plate aside the stroke is seen under the pen, before it is let go and stored.
  const covered = await look(page);
  await page.keyboard.down('v');
  const bare = await newLook(page, covered);
  const [a, b] = [await place(page, 0.2, 0.6), await place(page, 0.28, 0.62)];
  await page.mouse.move(a.x, a.y);
  await page.mouse.down();
  await page.mouse.move(b.x, b.y, { steps: 8 });
  await newLook(page, bare);
  expect((await state()).document.fill).toBe(before);
  await page.mouse.up();
  await page.keyboard.up('v');
  await expect.poll(async () => (await state()).document.fill).not.toBe(before);
  await page.getByLabel('Also on the picture itself').click();
  await expect(page.getByRole('dialog')).toContainText('Paint on the picture itself?');
  await page.getByRole('button', { name: 'Only what is hidden' }).click();

  await left('Border');
  const enough = page.getByRole('button', { name: 'Extend by just enough' });
  await expect(enough).toBeVisible();
  const { width } = (await state()).document.source;
  await enough.click();
  await expect(page.getByText('What is handed over is cropped to the frame')).toBeVisible();
  expect((await state()).document.source.width).toBeGreaterThan(width);
  await expect(page.getByText('No view runs out of picture within the frame.')).toBeVisible();
  await page.waitForSelector('canvas[data-state=ready]');
  await undoAll(page, id);
  expect((await state()).document).toMatchObject({ plates: [], fill: null, frame: null });
  expect(errors).toEqual([]);
});

test('by hand: a piece is copied, a line continued, filling taken back; tears are softened, and many views are counted while one goes on', async ({
  page,
}) => {
  test.setTimeout(180_000);
  const errors = watch(page);
  const id = await openShot(page);
  const state = async (): Promise<Filled> => (await shotOf(page, id)) as Filled;
  const left = (name: string) => page.locator('.ct-left').getByRole('button', { name, exact: true }).click();
  // A plate, and well before the ground: what this test is about comes after.
  const { width, height } = (await state()).document.source as { width: number; height: number };
  const corner = (u: number, v: number): { x: number; y: number } => ({ x: u * width, y: v * height });
  const act = {
    action: 'cut',
    plate: null,
    name: 'Tub',
    spare: true,
    choice: {
      ingredients: [
        {
          kind: 'outline',
          way: 'add',
          points: [corner(0.12, 0.3), corner(0.32, 0.3), corner(0.32, 0.95), corner(0.12, 0.95)],
        },
      ],
      edge: PLAIN_EDGE,
    },
  };
  const cut = await page.request.post(`/api/shots/${id}/plates`, { data: { expectedHead: (await state()).head, act } });
  expect(cut.status()).toBe(200);
  const made = (await cut.json()) as { head: number; document: { plates: { id: string }[] } };
  await page.request.post(`/api/shots/${id}/document`, {
    data: {
      expectedHead: made.head,
      label: 'Apart',
      patch: { plates: [{ id: made.document.plates[0].id, near: 1, far: 0.95 }] },
    },
  });
  await page.reload();
  await ready(page);
  await stage(page, 'Fill');
  const filled = async (): Promise<string | null> => (await state()).document.fill;
  const filledAnew = async (was: string | null): Promise<string | null> => {
    await expect.poll(filled).not.toBe(was);
    await stored(page);
    return filled();
  };

  await left('Copy a piece');
  const around = [
    [0.5, 0.5],
    [0.6, 0.5],
    [0.6, 0.62],
    [0.5, 0.62],
    [0.5, 0.5],
  ] as const;
  const from = await place(page, ...around[0]);
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  for (const [u, v] of around.slice(1)) {
    const p = await place(page, u, v);
    await page.mouse.move(p.x, p.y, { steps: 4 });
  }
  await page.mouse.up();
  // Held inside it moves as a whole; held at a corner that corner alone.
  await drag(page, await place(page, 0.55, 0.56), await place(page, 0.24, 0.56));
  await drag(page, await place(page, 0.29, 0.62), await place(page, 0.3, 0.66));
  await page.keyboard.press('Enter');
  const copied = await filledAnew(null);

  // Escape gives a piece up.
  await drag(page, await place(page, 0.6, 0.3), await place(page, 0.62, 0.3), 2);
  await page.keyboard.press('Escape');
  await left('Continue a line');
  await drag(page, await place(page, 0.22, 0.5), await place(page, 0.2205, 0.5), 2);
  await expect(page.getByText('A line is drawn from where the edge is known')).toBeVisible();
  await page.keyboard.press('Escape');
  await drag(page, await place(page, 0.08, 0.8), await place(page, 0.36, 0.8));
  // The line first, then what lies beside it: all is stored when both are.
  const lined = await filledAnew(copied);
  await page.locator('.ct-left').getByText('Border', { exact: true }).first().click();
  await drag(page, await place(page, 0.12, 0.72), await place(page, 0.34, 0.72));
  const parted = await filledAnew(lined);
  // Both strokes are held, and can be let go of.
  const strokes = page.getByRole('region', { name: 'Strokes that are held' });
  await expect(strokes.getByRole('listitem')).toHaveText([/^Line, /, /^Border, /]);
  await page.locator('.ct-left').getByText('By hand', { exact: true }).first().click();
  await strokes.getByRole('button', { name: /^Let go of stroke 1/ }).click();
  await expect(strokes.getByRole('listitem')).toHaveText([/^Border, /]);
  await stored(page);

  await left('Erase');
  await drag(page, await place(page, 0.2, 0.8), await place(page, 0.26, 0.8));
  const erased = await filledAnew(parted);
  await page.getByRole('button', { name: 'Throw this fill away' }).click();
  expect(await filledAnew(erased)).toBeNull();
  await expect(page.getByText('Nothing is filled here yet.')).toBeVisible();
  await page.keyboard.press('Control+z');
  expect(await filledAnew(null)).toBe(erased);

  await left('Hole and tears');
  const soft = page.getByRole('spinbutton', { name: 'Softness of torn edges' });
  await soft.fill('6');
  await soft.press('Enter');
  await stored(page);
  expect((await state()).document).toMatchObject({ tearSoftPx: 6 });

  await left('What is uncovered');
  const list = page.getByRole('list', { name: 'What is uncovered' });
  const figures = (): Promise<string | null> => list.textContent();
  // The fill that was taken back a moment ago has to be in the count before it is remembered.
  await expect(list).toContainText(/px open, .*[1-9].* px filled/);
  const eyes = await figures();
  await page.getByText(/^All \d+ views$/).click();
  // While many are counted the picture answers, and what was typed for pushing aside outlives the held key.
  const before = await look(page);
  const aside = page.getByRole('spinbutton', { name: 'Push nearer plates aside' });
  await aside.fill('30');
  await aside.press('Enter');
  const pushed = await newLook(page, before);
  await page.keyboard.down('v');
  const held = await newLook(page, pushed);
  await page.keyboard.up('v');
  await newLook(page, held);
  await expect(aside).toHaveValue('30');
  await page.getByText('Both eyes', { exact: true }).click();
  await expect.poll(figures).toBe(eyes);
  await undoAll(page, id);
  expect((await state()).document).toMatchObject({ plates: [], fill: null });
  expect(errors).toEqual([]);
});
