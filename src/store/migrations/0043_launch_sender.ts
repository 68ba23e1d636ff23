import { Migration } from "@mikro-orm/migrations";

/** Under whose name and address the emails of a launch go; null goes as the vendor. */
export class Migration0043LaunchSender extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
update launch set settings = settings || '{"sender":null}' where not settings ? 'sender';
update launch_change set before = before || '{"sender":null}' where not before ? 'sender';
    `);
  }
}
