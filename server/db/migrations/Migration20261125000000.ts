import { Migration } from '@mikro-orm/migrations';

/** Shots get plates: documents of before have none but the back plate. */
export class Migration20261125000000 extends Migration {
  override up(): void {
    for (const table of ['shot', 'history_entry', 'render'])
      this.addSql(
        `update ${table} set document = document || '{"plates": []}'::jsonb where not jsonb_exists(document, 'plates')`,
      );
  }
}
