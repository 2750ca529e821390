import { Migration } from '@mikro-orm/migrations';

/** Tiles say how they are packed: those of before go on as they are (server/rasters/packing). */
export class Migration20261128120000 extends Migration {
  override up(): void {
    this.addSql(`
      alter table tile add column coding smallint not null default 0;
      alter table tile_level add column coding smallint not null default 0;
      alter table tile_level alter column data set storage external;
    `);
  }
}
