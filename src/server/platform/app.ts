import pino, { type Logger } from "pino";
import { cardAccounts, httpCardProcessor, type CardAccounts } from "../../outside/cardProcessor";
import { smtpMailer, type Mailer } from "../../outside/mailer";
import { diskFiles, type FileStore } from "../../outside/fileStore";
import { httpMarketplace, type Marketplace } from "../../outside/marketplace";
import { closeOrm, orm, type EntityManager } from "../../store/orm";
import { EventLog } from "./eventLog";
import { ShiftableClock } from "./clock";
import type { VendorDetails } from "../../core/settings";
import { readConfig, type Config } from "./config";
import { CurrentVendor } from "./currentVendor";
import { describeError } from "./describeError";
import { Listener } from "./listener";

/** What use cases work with. One per process. */
export interface App {
  config: Config;
  clock: ShiftableClock;
  cards: CardAccounts;
  mailer: Mailer;
  market: Marketplace;
  /** Where the bytes of uploads lie. */
  files: FileStore;
  events: EventLog;
  /** Hears what other processes change. */
  listener: Listener;
  log: Logger;
  /** The vendor as the desk has it now. */
  readonly vendor: VendorDetails;
  /** Reads the vendor again after it was changed here; other processes are told by the database. */
  refreshVendor(): Promise<void>;
  /** A fresh unit of work: one per request or job. */
  fork(): EntityManager;
  stop(): Promise<void>;
}

const shared = globalThis as { inkBellApp?: Promise<App> };

const start = async (env: NodeJS.ProcessEnv): Promise<App> => {
  const config = readConfig(env);
  const { em } = await orm(config.DATABASE_URL, config.INKBELL_ROLE !== "worker");
  const fork = () => em.fork();
  const log = pino({ level: config.INKBELL_LOG });
  const clock = new ShiftableClock(config.INKBELL_TEST_CLOCK === "1");
  const events = new EventLog(fork, log);
  const vendor = new CurrentVendor(config);
  const learn = () => vendor.refresh(fork()).catch((error: unknown) => log.error({ error: describeError(error) }, "the vendor was not read again"));
  const listener = new Listener(config.DATABASE_URL);
  listener.on("test_clock", () => void clock.refresh(fork()));
  listener.on("vendor_changed", () => void learn());
  const mailer = smtpMailer(config.SMTP_URL);
  await clock.refresh(fork());
  await vendor.refresh(fork());
  await listener.start();
  return {
    config,
    clock,
    listener,
    events,
    log,
    refreshVendor: () => vendor.refresh(fork()),
    get vendor() {
      return vendor.current;
    },
    fork,
    cards: cardAccounts(
      httpCardProcessor(config.CARD_DESK_URL, config.CARD_DESK_KEY),
      httpCardProcessor(config.CARD_DESK_URL, config.CARD_DESK_TEST_KEY),
      config.CARD_DESK_ACCOUNTS.map(({ currencies, url, key }) => ({ currencies, processor: httpCardProcessor(url, key) })),
    ),
    mailer,
    files: diskFiles(config.INKBELL_FILES),
    market: httpMarketplace("harbour", config.MARKET_URL, config.MARKET_KEY),
    async stop() {
      await events.stop();
      mailer.close();
      await listener.stop();
      await closeOrm();
      // Whoever asks for the app after that gets one that runs.
      shared.inkBellApp = undefined;
    },
  };
};

/** This process's app, started on first use. Kept on `globalThis`: the web entry and the routes are separate bundles. */
export const theApp = (env: NodeJS.ProcessEnv = process.env): Promise<App> => (shared.inkBellApp ??= start(env));
