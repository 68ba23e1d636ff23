import { Migration } from "@mikro-orm/migrations";

/** Which closing an email stated to its reader. */
export class Migration0047StatedClosing extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table email_message add column stated_closing timestamptz;
create index on email_message (launch_id, contact_id, sent_at desc) where stated_closing is not null;
    `);
  }
}
