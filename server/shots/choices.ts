import { createHash } from 'node:crypto';
import type { EntityManager } from '@mikro-orm/postgresql';
import { choiceSchema, type Choice } from '@/core/matte/choice';
import { query } from '../db/query';
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
  await query(em, 'insert into choice (name, data) values ($1, $2) on conflict do nothing', [
    name,
    JSON.stringify(choice),
  ]);
  return name;
}

/** @throws Problem 404 */
export async function loadChoice(em: EntityManager, name: string): Promise<Choice> {
  const rows = await query<{ data: unknown }>(em, 'select data from choice where name = $1', [name]);
  if (!rows[0]) throw Problem.notFound('This choice');
  return choiceSchema.parse(rows[0].data);
}
