import { Migration } from "@mikro-orm/migrations";

/** The bytes of uploads move out of the database into the file store; the rows say which file it is. */
export class Migration0013Files extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table media_file add column sha256 text check (sha256 ~ '^[0-9a-f]{64}$'), add column bytes bigint check (bytes >= 0), alter column body drop not null;
-- Rows of before hold their bytes until a start of the app has moved them.
alter table media_file add check ((body is null) = (sha256 is not null)), add check ((sha256 is null) = (bytes is null));
    `);
  }
}
