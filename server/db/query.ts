import { createHash } from 'node:crypto';
import type { EntityManager, Knex } from '@mikro-orm/postgresql';
import type { ClientBase } from 'pg';

/** What hands out connections: one of a pool, or, within a transaction, the transaction's. */
interface Connections {
  acquireConnection(): Promise<ClientBase>;
  releaseConnection(connection: ClientBase): Promise<void>;
}

/** Names of statements by their text: a statement is read and planned once a connection. */
const names = new Map<string, string>();
function nameOf(text: string): string {
  let name = names.get(text);
  if (name === undefined) names.set(text, (name = createHash('md5').update(text).digest('hex')));
  return name;
}

/**
 * Runs a statement with values in the places $1, $2, … and gives its rows. The values travel beside the text, bytes as
 * bytes: written
 * into it, as the entity manager's own `execute` does, they would be twice as long and the statement a new one each time.
 * @param em within a transaction the statement belongs to it
 */
export async function query<Row = unknown>(
  em: EntityManager,
  text: string,
  values: readonly unknown[] = [],
): Promise<Row[]> {
  const knex = em.getTransactionContext<Knex.Transaction>() ?? em.getConnection().getKnex();
  const connections = knex.client as Connections;
  const connection = await connections.acquireConnection();
  try {
    const { rows } = await connection.query({ name: nameOf(text), text, values: [...values] });
    return rows as Row[];
  } finally {
    await connections.releaseConnection(connection);
  }
}

/** The places of `count` values in brackets, from `$from` on: `($3, $4)`. */
export const places = (count: number, from = 1): string =>
  `(${Array.from({ length: count }, (_, n) => `$${from + n}`).join(', ')})`;

/** The places of so many rows of so many values: `($1, $2), ($3, $4)`. */
export const rowPlaces = (rows: number, columns: number): string =>
  Array.from({ length: rows }, (_, n) => places(columns, 1 + n * columns)).join(', ');
