import { Migration } from "@mikro-orm/migrations";

/** When the runs of people's own clocks end, and what outside tools told of people. */
export class Migration0045Moments extends Migration {
  override up(): void {
    this.addSql(/* sql */ `
alter table clock_start add column ends_at timestamptz, add column dated_at timestamptz;
create index on clock_start (launch_id) where dated_at is null and not superseded;
create index on clock_start (launch_id, ends_at) where ends_at is not null;
create table person_notice (
  launch_id uuid not null references launch,
  contact_id uuid not null references contact,
  name text not null,
  at timestamptz not null,
  primary key (launch_id, contact_id, name, at)
);
create index on person_notice (contact_id);
    `);
  }
}
