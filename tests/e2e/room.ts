import { readdirSync, readFileSync } from 'node:fs';
import { expect, type Page } from '@playwright/test';
import type { ShotDocument } from '@/core/shot/document';

/** Errors that the page reported; a test ends with none but those it provoked. */
export function watch(page: Page): string[] {
  const errors: string[] = [];
  page.on('console', (m) => {
    if (m.type() === 'error') errors.push(m.text());
  });
  page.on('pageerror', (e) => errors.push(e.message));
  return errors;
}

/** Opens a demo shot from the desk, as somebody would. */
export async function openShot(page: Page, name = 'Column and lantern'): Promise<string> {
  await page.goto('/');
  await page.getByLabel(`Open ${name}`).click();
  await ready(page);
  return /shots\/([0-9a-f-]+)/.exec(page.url())![1];
}

/** Waits until the shot is shown and its picture rests: more may be known of it a moment after it is first shown. */
export async function ready(page: Page): Promise<void> {
  await page.waitForSelector('canvas[data-state=ready]');
  await page.waitForFunction(() => performance.getEntriesByName('look-shown').length > 0);
  await newLook(page, '');
}

export const stored = (page: Page) => expect(page.getByTestId('stored')).toHaveAttribute('data-storing', 'stored');
export const stage = (page: Page, name: string) =>
  page
    .getByLabel('Stages')
    .getByRole('button', { name: new RegExp(`^${name}`) })
    .click();
export const way = (page: Page, name: string) =>
  page.getByLabel('Ways to see').getByRole('radio', { name, exact: true }).click();

/**
 * A sum over what the canvases show and where they lie, that changes when the picture does. The well reduced copy at
 * rest says nothing new.
 */
export function look(page: Page): Promise<string> {
  return page.evaluate(() => {
    let a = 1;
    let b = 0;
    const places: string[] = [];
    for (const canvas of document.querySelectorAll<HTMLCanvasElement>('.ct-viewer canvas:not([data-testid=rest])')) {
      if (canvas.hidden) continue;
      places.push(canvas.style.cssText);
      const { data } = canvas.getContext('2d')!.getImageData(0, 0, canvas.width, canvas.height);
      for (let i = 0; i < data.length; i += 3) {
        a = (a + data[i]) % 65521;
        b = (b + a) % 65521;
      }
    }
    return `${a},${b} ${places.join(' ')}`;
  });
}

/** Waits for any other picture, also one of many that pass. */
export async function otherLook(page: Page, old: string): Promise<string> {
  await expect.poll(() => look(page)).not.toBe(old);
  return look(page);
}

/**
 * Waits for another picture at which the preview rests: what a drag shows on its way is no answer to compare the next
 * one with.
 */
export async function newLook(page: Page, old: string): Promise<string> {
  const picture = page.getByTestId('picture');
  let last = old;
  await expect(async () => {
    const seen = await look(page);
    const before = last;
    last = seen;
    expect(await picture.getAttribute('aria-busy')).not.toBe('true');
    expect(seen).not.toBe(old);
    expect(seen).toBe(before);
  }).toPass({ intervals: [250] });
  return last;
}

/** Takes an option of a list. A press on one while the list unfolds can be lost: then it is taken again. */
export async function option(page: Page, label: string, name: string): Promise<void> {
  const list = page.locator('.ant-select', { has: page.getByLabel(label) });
  await expect(async () => {
    await list.click();
    await page.locator('.ant-select-item-option').getByText(name, { exact: true }).click({ timeout: 10_000 });
    await expect(list).toContainText(name, { timeout: 10_000 });
  }).toPass();
}

/** Takes a step back, and waits until that is stored. @param press how it is asked for */
export async function takeBack(page: Page, id: string, press: () => Promise<void>): Promise<void> {
  const { head } = await shotOf(page, id);
  await press();
  await expect.poll(async () => (await shotOf(page, id)).head).not.toBe(head);
  await stored(page);
}

/** Where a place of the picture (0 to 1 both ways) lies on the page. */
export async function place(page: Page, u: number, v: number): Promise<{ x: number; y: number }> {
  const box = (await page.locator('.ct-viewer').boundingBox())!;
  const source = await page.evaluate(
    async () =>
      (
        (await (await fetch(`/api/shots/${location.pathname.split('/')[2]}`)).json()) as {
          shot: { document: { source: { width: number; height: number } } };
        }
      ).shot.document.source,
  );
  const zoom = Math.min((box.width - 24) / source.width, (box.height - 24) / source.height);
  return {
    x: box.x + box.width / 2 + (u - 0.5) * source.width * zoom,
    y: box.y + box.height / 2 + (v - 0.5) * source.height * zoom,
  };
}

export async function drag(
  page: Page,
  from: { x: number; y: number },
  to: { x: number; y: number },
  steps = 8,
): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move(to.x, to.y, { steps });
  await page.mouse.up();
}

/** The processes of this test's house whose command line matches: found by the mark that bin/start gives them. */
export function processes(what: RegExp): number[] {
  const mark = `CORK_RUN=${process.env.CORK_TEST_DATA}`;
  return readdirSync('/proc')
    .filter((p) => /^\d+$/.test(p))
    .map(Number)
    .filter((pid) => {
      try {
        return (
          readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0').includes(mark) &&
          what.test(readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' '))
        );
      } catch {
        return false;
      }
    });
}

/** The database's first process: the postgres that listens on the port which this house remembers. */
export function postgresOf(): number {
  const port = readFileSync(`${process.env.CORK_TEST_DATA}/pg.port`, 'utf8').trim();
  return (
    readdirSync('/proc')
      .filter((p) => /^\d+$/.test(p))
      .map(Number)
      .find((pid) => {
        try {
          return new RegExp(`bin/postgres .*port=${port}( |$)`).test(
            readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ').trim(),
          );
        } catch {
          return false;
        }
      }) ?? 0
  );
}

export async function shotOf(
  page: Page,
  id: string,
): Promise<{
  head: number;
  document: Pick<ShotDocument, 'budget' | 'depth' | 'move' | 'keptMoves' | 'plates' | 'footage'>;
  undo: string | null;
}> {
  return ((await (await page.request.get(`/api/shots/${id}`)).json()) as { shot: never }).shot;
}

/** Takes back all that was done to a shot, so that the next test finds it as it came. */
export async function undoAll(page: Page, id: string): Promise<void> {
  for (let shot = await shotOf(page, id); shot.undo !== null; shot = await shotOf(page, id)) {
    const answer = await page.request.post(`/api/shots/${id}/history`, {
      data: { expectedHead: shot.head, action: 'undo' },
    });
    expect(answer.status()).toBe(200);
  }
}
