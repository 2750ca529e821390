import { MikroORM, type EntityManager } from '@mikro-orm/postgresql';
import { Migrator } from '@mikro-orm/migrations';
import { databaseUrl } from '../config';
import { HistoryEntry, Project, Render, Shot } from './entities';
import { Migration20261124000000 } from './migrations/Migration20261124000000';

const MIGRATIONS = [{ name: 'Migration20261124000000', class: Migration20261124000000 }];

/** One ORM a process, kept through hot reloads as long as the entities are the same objects. */
const kept = globalThis as typeof globalThis & { corkOrm?: { key: unknown; orm: Promise<MikroORM> } };

export function openOrm(): Promise<MikroORM> {
  if (kept.corkOrm?.key !== Project) {
    const orm = MikroORM.init({
      clientUrl: databaseUrl(),
      entities: [Project, Shot, HistoryEntry, Render],
      discovery: { disableDynamicFileAccess: true, warnWhenNoEntities: false },
      metadataCache: { enabled: false },
      forceUtcTimezone: true,
      allowGlobalContext: false,
      pool: { min: 0, max: 8 },
      driverOptions: { connection: { connectionTimeoutMillis: 5000 } },
      extensions: [Migrator],
      migrations: { migrationsList: MIGRATIONS, snapshot: false, tableName: 'migration' },
    });
    kept.corkOrm = { key: Project, orm };
    // A database that is down now may be up at the next request.
    orm.catch(() => { if (kept.corkOrm?.orm === orm) kept.corkOrm = undefined; });
  }
  return kept.corkOrm!.orm;
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
  return em.transactional((t) => work(t as EntityManager));
}
