import { Migration } from '@mikro-orm/migrations';

/** The first tables: projects, shots and their history, tiles of rasters, media in chunks, renders. */
export class Migration20261124000000 extends Migration {
  override up(): void {
    this.addSql(`
      create table project (id uuid primary key, name text not null, created_at timestamptz not null, put_away_at timestamptz);
      create table media (id uuid primary key, file_name text not null, mime text not null, size bigint not null,
        sha256 bytea not null, created_at timestamptz not null);
      create table media_chunk (media_id uuid not null references media on delete cascade, n int not null,
        data bytea not null, primary key (media_id, n));
      alter table media_chunk alter column data set storage external;
      create table shot (
        id uuid primary key, project_id uuid not null references project, name text not null, document jsonb not null,
          head_id int not null,
        created_at timestamptz not null, changed_at timestamptz not null, put_away_at timestamptz);
      create index shot_project on shot (project_id);
      create table history_entry (
        id serial primary key, shot_id uuid not null references shot on delete cascade,
          parent_id int references history_entry, label text not null,
        document jsonb not null, created_at timestamptz not null);
      create index history_of_shot on history_entry (shot_id, parent_id);
      create table tile (hash bytea primary key, data bytea not null);
      alter table tile alter column data set storage external;
      create table raster_revision (id uuid primary key, width int not null, height int not null,
        hashes bytea not null, created_at timestamptz not null);
      create table render (
        id uuid primary key, shot_id uuid not null references shot on delete cascade, recipe jsonb not null,
          document jsonb not null, state text not null,
        progress real not null, step text not null, error text, stop_requested boolean not null, worker text,
          heartbeat_at timestamptz,
        created_at timestamptz not null, started_at timestamptz, finished_at timestamptz, report jsonb);
      create index render_of_shot on render (shot_id, created_at);
      create table render_output (
        render_id uuid not null references render on delete cascade, n int not null, name text not null,
          media_id uuid not null references media, primary key (render_id, n));
    `);
  }
}
