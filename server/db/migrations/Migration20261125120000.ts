import { Migration } from '@mikro-orm/migrations';

/** Plates get a piece of their own and a group; the edges of choices get growing and strokes that widen the band. */
export class Migration20261125120000 extends Migration {
  override up(): void {
    for (const table of ['shot', 'history_entry', 'render']) {
      this.addSql(`
        update ${table} set document = jsonb_set(document, '{plates}', (
          select coalesce(jsonb_agg(
            '{"piece": null, "group": null}'::jsonb || case when jsonb_typeof(p -> 'choice') = 'object'
              then jsonb_set(p, '{choice,edge}', '{"growTolerance": 16, "growPx": 0, "unsure": []}'::jsonb || (p #> '{choice,edge}')) else p end order by n), '[]'::jsonb)
          from jsonb_array_elements(document -> 'plates') with ordinality as t(p, n)))
        where jsonb_array_length(document -> 'plates') > 0`);
    }
  }
}
