import { Migration } from '@mikro-orm/migrations';

/** Pieces of a video: made by any worker, kept until the video is whole. */
export class Migration20261129000000 extends Migration {
  override up(): void {
    this.addSql(`
      create table render_piece (
        render_id uuid not null references render on delete cascade, n int not null, frames int not null,
        worker text, beat_at timestamptz, done int not null default 0, whole boolean not null default false, media_id uuid references media,
        primary key (render_id, n));
    `);
  }
}
