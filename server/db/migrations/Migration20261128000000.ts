import { Migration } from '@mikro-orm/migrations';

/**
 * History stays small: an entry keeps what it changed, and only now and then the whole document; choices and lists of
 * tiles lie apart.
 * Every change has an id of its own, so that one that is sent again is stored once. Documents of before are upgraded
 * when they are read.
 */
export class Migration20261128000000 extends Migration {
  override up(): void {
    this.addSql(`
      alter table history_entry alter column document drop not null;
      alter table history_entry add column patch jsonb, add column since int not null default 0,
        add column change_id uuid, add column answer jsonb;
      alter table shot add column since int not null default 0;
      create unique index history_change on history_entry (change_id);
      create table history_move (change_id uuid primary key, shot_id uuid not null references shot on delete cascade,
        head_id int not null references history_entry, created_at timestamptz not null);
      create table choice (name text primary key, data jsonb not null);
      alter table raster_revision alter column hashes drop not null;
      create table tile_level (hash bytea not null references tile, kind text not null, level smallint not null,
        data bytea not null, primary key (hash, kind, level));
      alter table raster_revision add column base_id uuid references raster_revision, add column changed bytea,
        add column since int not null default 0;
    `);
  }
}
