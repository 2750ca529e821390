import { z } from 'zod';
import { MOST_FOOTAGE } from '@/core/shot/document';
import { Problem } from './problem';

type WithParams<K extends string> = { params: Promise<Record<K, string>> };

/** The id in a route's path. */
export async function idOf(context: WithParams<'id'>): Promise<string> {
  const { id } = await context.params;
  if (!z.uuid().safeParse(id).success) throw Problem.notFound('What this address names');
  return id;
}

/** left, top, right, bottom, width, height of a window of a picture that is `size` large. */
export function windowOf(
  url: string,
  size: { width: number; height: number },
): { left: number; top: number; right: number; bottom: number; width: number; height: number } {
  const query = new URL(url).searchParams;
  const whole = z.coerce.number().int();
  const w = z
    .strictObject({
      left: whole.min(0),
      top: whole.min(0),
      right: whole.max(size.width),
      bottom: whole.max(size.height),
      width: whole.min(1).max(4096),
      height: whole.min(1).max(4096),
    })
    .parse(Object.fromEntries(['left', 'top', 'right', 'bottom', 'width', 'height'].map((k) => [k, query.get(k)])));
  if (w.left >= w.right || w.top >= w.bottom || w.width > w.right - w.left || w.height > w.bottom - w.top)
    throw new Problem(400, 'bad-request', 'The window is empty or larger than what it shows.');
  return w;
}

/** The frame of footage that an address names, from 0. @default the first */
export const momentOf = (url: string): number =>
  z.coerce
    .number()
    .int()
    .min(0)
    .max(MOST_FOOTAGE)
    .parse(new URL(url).searchParams.get('moment') ?? 0);
