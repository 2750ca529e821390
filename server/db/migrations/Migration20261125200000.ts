import { Migration } from '@mikro-orm/migrations';

/** Shots get a frame, the part of an extended canvas that is handed over, a softness of torn edges, and a depth of what
 * plates hide. */
export class Migration20261125200000 extends Migration {
  override up(): void {
    for (const table of ['shot', 'history_entry', 'render']) {
      this.addSql(
        `update ${table} set document = jsonb_set('{"frame": null, "tearSoftPx": 0}'::jsonb || document, '{depth}', '{"behind": null}'::jsonb || (document -> 'depth'))`,
      );
      this.addSql(`
        update ${table} set document = jsonb_set(document, '{plates}', (
          select coalesce(jsonb_agg('{"tearSoftPx": null}'::jsonb || p order by n), '[]'::jsonb) from jsonb_array_elements(document -> 'plates') with ordinality as t(p, n)))`);
    }
  }
}
