import { createHash } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { choiceSchema, type Choice } from '@/core/matte/choice';
import { Problem } from '../http/problem';

// How plates were chosen lies apart from the documents that name it: outlines are long, and most changes leave them alone.

/** A choice's name: the SHA-256 of what it says, in the order of its schema. */
export const nameOfChoice = (choice: Choice): string =>
  createHash('sha256')
    .update(JSON.stringify(choiceSchema.parse(choice)))
    .digest('hex');

/** Keeps a choice and gives its name; equal ones are kept once. */
export async function storeChoice(em: EntityManager, choice: Choice): Promise<string> {
  const name = nameOfChoice(choice);
  await em.execute('insert into choice (name, data) values (?, ?) on conflict do nothing', [
    name,
    JSON.stringify(choice),
  ]);
  return name;
}

/** @throws Problem 404 */
export async function loadChoice(em: EntityManager, name: string): Promise<Choice> {
  const rows = await em.execute<{ data: unknown }[]>('select data from choice where name = ?', [name]);
  if (!rows[0]) throw Problem.notFound('This choice');
  return choiceSchema.parse(rows[0].data);
}
