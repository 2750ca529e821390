import { WrongWords } from './words';

/** What --frames says: the first and the last, counted from 1; undefined where it says nothing. */
export function framesIn(given: string | undefined): { readonly first: number; readonly last: number } | undefined {
  if (given === undefined) return undefined;
  const found = /^(\d{1,5})-(\d{1,5})$/.exec(given);
  const [first, last] = found ? [Number(found[1]), Number(found[2])] : [0, 0];
  if (first < 1 || last < first)
    throw new WrongWords(`--frames takes the first and the last, counted from 1, as 1-48, not '${given}'.`);
  return { first, last };
}
