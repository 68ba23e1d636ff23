import { MikroORM, type EntityManager, UnderscoreNamingStrategy } from "@mikro-orm/postgresql";
import { Migrator } from "@mikro-orm/migrations";
import { tables } from "./tables";
import { Migration0001First } from "./migrations/0001_first";
import { Migration0002Clock } from "./migrations/0002_clock";
import { Migration0003Pages } from "./migrations/0003_pages";
import { Migration0004Visits } from "./migrations/0004_visits";
import { Migration0005Run } from "./migrations/0005_run";
import { Migration0006Offers } from "./migrations/0006_offers";
import { Migration0007Tax } from "./migrations/0007_tax";
import { Migration0008Coupons } from "./migrations/0008_coupons";
import { Migration0009Orders } from "./migrations/0009_orders";
import { Migration0010Seats } from "./migrations/0010_seats";
import { Migration0011Sending } from "./migrations/0011_sending";
import { Migration0012HeldParts } from "./migrations/0012_held_parts";
import { Migration0013Files } from "./migrations/0013_files";
import { Migration0014Acts } from "./migrations/0014_acts";
import { Migration0015Sending } from "./migrations/0015_sending";
import { Migration0016Identity } from "./migrations/0016_identity";
import { Migration0017SoldOut } from "./migrations/0017_sold_out";
import { Migration0018Settings } from "./migrations/0018_settings";
import { Migration0019Parts } from "./migrations/0019_parts";
import { Migration0020Archive } from "./migrations/0020_archive";
import { Migration0021Counting } from "./migrations/0021_counting";
import { Migration0022Terms } from "./migrations/0022_terms";
import { Migration0023EventData } from "./migrations/0023_event_data";
import { Migration0024Counters } from "./migrations/0024_counters";
import { Migration0025Retention } from "./migrations/0025_retention";
import { Migration0026Commissions } from "./migrations/0026_commissions";
import { Migration0027Bells } from "./migrations/0027_bells";
import { Migration0028Search } from "./migrations/0028_search";
import { Migration0029Emails } from "./migrations/0029_emails";
import { Migration0030People } from "./migrations/0030_people";
import { Migration0031PeopleFilters } from "./migrations/0031_people_filters";
import { Migration0032PeopleImport } from "./migrations/0032_people_import";
import { Migration0033Erasure } from "./migrations/0033_erasure";
import { Migration0034Merging } from "./migrations/0034_merging";
import { Migration0035PeopleRules } from "./migrations/0035_people_rules";
import { Migration0036EmailContents } from "./migrations/0036_email_contents";
import { Migration0037Sequences } from "./migrations/0037_sequences";
import { Migration0038SendingLimits } from "./migrations/0038_sending_limits";
import { Migration0039ReturnedMail } from "./migrations/0039_returned_mail";
import { Migration0040Clicks } from "./migrations/0040_clicks";
import { Migration0041OneOffEmails } from "./migrations/0041_one_off_emails";
import { Migration0042EmailVariants } from "./migrations/0042_email_variants";
import { Migration0043LaunchSender } from "./migrations/0043_launch_sender";
import { Migration0044EmailTemplates } from "./migrations/0044_email_templates";
import { Migration0045Moments } from "./migrations/0045_moments";
import { Migration0046Webhooks } from "./migrations/0046_webhooks";
import { Migration0047StatedClosing } from "./migrations/0047_stated_closing";
import { Migration0048Access } from "./migrations/0048_access";

export type { EntityManager };

/** A connection that statements can be sent through, where the ORM's own will not do. */
export interface Queryable {
  query(text: string, values?: unknown[]): Promise<{ rows: unknown[] }>;
}

const shared = globalThis as { inkBellOrm?: Promise<MikroORM> };

/** A statement of somebody who waits for a page is ended after so long; work in the background and migrations take their time. */
const webStatementMs = 15_000;

/** PostgreSQL compiles what it thinks is costly, which takes longer than all but the heaviest of our statements take to run. */
const withoutJit = "-c jit=off";
/** Counting how often each of a hundred thousand people did something fits into memory of this size, and goes to the disk in less. */
const workMemory = "-c work_mem=16MB";

const connect = (url: string, waits: boolean) =>
  MikroORM.init({
    clientUrl: url,
    entities: tables,
    namingStrategy: UnderscoreNamingStrategy,
    discovery: { disableDynamicFileAccess: true },
    metadataCache: { enabled: false },
    forceUtcTimezone: true,
    // Entities are written when the code says so: ids are made here, so the unit of work cannot tell which row comes first.
    persistOnCreate: false,
    pool: { min: 1, max: 20, acquireTimeoutMillis: 15_000 },
    driverOptions: { connection: { options: `${withoutJit} ${workMemory}`, ...(waits ? { statement_timeout: webStatementMs } : {}) } },
    extensions: [Migrator],
    migrations: {
      migrationsList: [
        { name: "0001_first", class: Migration0001First },
        { name: "0002_clock", class: Migration0002Clock },
        { name: "0003_pages", class: Migration0003Pages },
        { name: "0004_visits", class: Migration0004Visits },
        { name: "0005_run", class: Migration0005Run },
        { name: "0006_offers", class: Migration0006Offers },
        { name: "0007_tax", class: Migration0007Tax },
        { name: "0008_coupons", class: Migration0008Coupons },
        { name: "0009_orders", class: Migration0009Orders },
        { name: "0010_seats", class: Migration0010Seats },
        { name: "0011_sending", class: Migration0011Sending },
        { name: "0012_held_parts", class: Migration0012HeldParts },
        { name: "0013_files", class: Migration0013Files },
        { name: "0014_acts", class: Migration0014Acts },
        { name: "0015_sending", class: Migration0015Sending },
        { name: "0016_identity", class: Migration0016Identity },
        { name: "0017_sold_out", class: Migration0017SoldOut },
        { name: "0018_settings", class: Migration0018Settings },
        { name: "0019_parts", class: Migration0019Parts },
        { name: "0020_archive", class: Migration0020Archive },
        { name: "0021_counting", class: Migration0021Counting },
        { name: "0022_terms", class: Migration0022Terms },
        { name: "0023_event_data", class: Migration0023EventData },
        { name: "0024_counters", class: Migration0024Counters },
        { name: "0025_retention", class: Migration0025Retention },
        { name: "0026_commissions", class: Migration0026Commissions },
        { name: "0027_bells", class: Migration0027Bells },
        { name: "0028_search", class: Migration0028Search },
        { name: "0029_emails", class: Migration0029Emails },
        { name: "0030_people", class: Migration0030People },
        { name: "0031_people_filters", class: Migration0031PeopleFilters },
        { name: "0032_people_import", class: Migration0032PeopleImport },
        { name: "0033_erasure", class: Migration0033Erasure },
        { name: "0034_merging", class: Migration0034Merging },
        { name: "0035_people_rules", class: Migration0035PeopleRules },
        { name: "0036_email_contents", class: Migration0036EmailContents },
        { name: "0037_sequences", class: Migration0037Sequences },
        { name: "0038_sending_limits", class: Migration0038SendingLimits },
        { name: "0039_returned_mail", class: Migration0039ReturnedMail },
        { name: "0040_clicks", class: Migration0040Clicks },
        { name: "0041_one_off_emails", class: Migration0041OneOffEmails },
        { name: "0042_email_variants", class: Migration0042EmailVariants },
        { name: "0043_launch_sender", class: Migration0043LaunchSender },
        { name: "0044_email_templates", class: Migration0044EmailTemplates },
        { name: "0045_moments", class: Migration0045Moments },
        { name: "0046_webhooks", class: Migration0046Webhooks },
        { name: "0047_stated_closing", class: Migration0047StatedClosing },
        { name: "0048_access", class: Migration0048Access },
      ],
      snapshot: false,
    },
    schemaGenerator: { ignoreSchema: ["pgboss"] },
  });

/** The one ORM of this process; `waits` says that somebody waits for what it does. Fork it per request. */
export const orm = (url: string, waits = false): Promise<MikroORM> => (shared.inkBellOrm ??= connect(url, waits));

/** Brings the database to the newest migration. Safe when several processes start at once. */
export const migrate = async (url: string): Promise<void> => {
  const found = await connect(url, false);
  const connection = found.em.getConnection();
  await found.em.transactional(async (em) => {
    await em.execute("select pg_advisory_xact_lock(748201)");
    await connection.execute("create schema if not exists public");
    await found.getMigrator().up();
  });
  await found.close(true);
};

/** Ends the connections of this process. */
export const closeOrm = async (): Promise<void> => {
  const found = await shared.inkBellOrm;
  shared.inkBellOrm = undefined;
  await found?.close(true);
};
