import { Migration } from "@mikro-orm/migrations";

/** How many came to a launch is counted from an index: it is written once for each person, and small beside the rows. */
export class Migration0021Counting extends Migration {
  override up(): void {
    this.addSql("create index stage_rollup_visits on stage_rollup (launch_id, visited)");
  }
}
