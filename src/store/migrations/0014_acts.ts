import { Migration } from "@mikro-orm/migrations";

/** A refund knows which press asked for it, so that the same press twice gives back once. */
export class Migration0014Acts extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table refund add column act uuid;
create unique index on refund (order_id, act, charge_id) where act is not null;
    `);
  }
}
