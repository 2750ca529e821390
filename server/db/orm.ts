import { MikroORM, type EntityManager } from '@mikro-orm/postgresql';
import { Migrator } from '@mikro-orm/migrations';
import { databaseUrl } from '../config';
import { HistoryEntry, Project, Render, Shot } from './entities';
import { Migration20261124000000 } from './migrations/Migration20261124000000';
import { Migration20261128000000 } from './migrations/Migration20261128000000';
import { Migration20261128120000 } from './migrations/Migration20261128120000';
import { Migration20261129000000 } from './migrations/Migration20261129000000';

const MIGRATIONS = [
  { name: 'Migration20261124000000', class: Migration20261124000000 },
  { name: 'Migration20261128000000', class: Migration20261128000000 },
  { name: 'Migration20261128120000', class: Migration20261128120000 },
  { name: 'Migration20261129000000', class: Migration20261129000000 },
];

/**
 * One ORM for each copy of the entities in this process: pages and route handlers are bundled apart, and a hot reload makes new
 * copies. Keyed by the entity, or one copy would close the other's pool in turns, or be served stale entities.
 */
const kept = globalThis as typeof globalThis & { corkOrms?: Map<unknown, Promise<MikroORM>> };

export function openOrm(): Promise<MikroORM> {
  const orms = (kept.corkOrms ??= new Map<unknown, Promise<MikroORM>>());
  let orm = orms.get(Project);
  if (!orm) {
    orm = MikroORM.init({
      clientUrl: databaseUrl(),
      entities: [Project, Shot, HistoryEntry, Render],
      discovery: { disableDynamicFileAccess: true, warnWhenNoEntities: false },
      metadataCache: { enabled: false },
      forceUtcTimezone: true,
      allowGlobalContext: false,
      pool: { min: 0, max: 8 },
      driverOptions: { connection: { connectionTimeoutMillis: 5000 } },
      // What a migration did is of no interest to people at a terminal; trouble is thrown.
      logger: (text) => {
        if (!text.includes('[migrator]')) console.warn(text);
      },
      extensions: [Migrator],
      migrations: { migrationsList: MIGRATIONS, snapshot: false, tableName: 'migration' },
    });
    orms.set(Project, orm);
    // A database that is down now may be up at the next request.
    orm.catch(() => {
      orms.delete(Project);
    });
  }
  return orm;
}

/** A fresh unit of work. */
export async function database(): Promise<EntityManager> {
  return (await openOrm()).em.fork();
}

/** Brings the tables up to date; does nothing where they are. */
export async function migrate(): Promise<void> {
  const orm = await openOrm();
  await orm.getMigrator().up();
}

/** Runs `work` in one transaction: all of it is stored, or nothing. */
export async function inTransaction<T>(work: (em: EntityManager) => Promise<T>): Promise<T> {
  const em = await database();
  return em.transactional((t) => work(t));
}
