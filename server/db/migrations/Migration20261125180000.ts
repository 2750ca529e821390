import { Migration } from '@mikro-orm/migrations';

/** Plates and the back plate get a place for what is filled in, plates a tear limit of their own, shots how far holes are pushed out. */
export class Migration20261125180000 extends Migration {
  override up(): void {
    for (const table of ['shot', 'history_entry', 'render']) {
      this.addSql(`
        update ${table} set document = '{"fill": null, "holePx": null}'::jsonb || jsonb_set(document, '{plates}', (
          select coalesce(jsonb_agg('{"fill": null, "tearPx": null}'::jsonb || p order by n), '[]'::jsonb) from jsonb_array_elements(document -> 'plates') with ordinality as t(p, n)))`);
    }
  }
}
