import { Migration } from "@mikro-orm/migrations";

/** Launches, pages and coupons may leave the lists. A page that has left is not public, and a coupon that has holds no more. */
export class Migration0020Archive extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table launch add column archived_at timestamptz;
alter table page add column archived_at timestamptz, add constraint archived_page_is_not_public check (archived_at is null or published is null);
alter table coupon add column archived_at timestamptz, add constraint archived_coupon_has_ended check (archived_at is null or stopped_at is not null);
`);
  }
}
