import { Migration } from '@mikro-orm/migrations';

/** What is painted over a plate's own pixels lies apart from what is filled in behind nearer plates. */
export class Migration20261125210000 extends Migration {
  override up(): void {
    for (const table of ['shot', 'history_entry', 'render']) {
      this.addSql(`
        update ${table} set document = '{"overpaint": null}'::jsonb || jsonb_set(document, '{plates}', (
          select coalesce(jsonb_agg('{"overpaint": null}'::jsonb || p order by n), '[]'::jsonb) from jsonb_array_elements(document -> 'plates') with ordinality as t(p, n)))`);
    }
  }
}
