import { templateName } from "./templateDatabase";
import { subscribeAll } from "../../src/server/reactions";
import { launchesOf } from "../../src/server/launch/launchCache";
import { chargesMade, type BookedCharge } from "./cardDeskBooks";
import { randomUUID } from "node:crypto";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import pg from "pg";
import { freePort } from "../../scripts/lib/run.mjs";
import { databaseUrl } from "../../scripts/lib/postgres.mjs";
import { stackSettings, startStandins } from "../../scripts/lib/stack.mjs";
import { newLaunchRequest, wallTimeOf, type LaunchSettings, type NewLaunchRequest, type PageKind } from "../../src/core/launch";
import { Worker } from "../../src/jobs/worker";
import { theApp, type App } from "../../src/server/platform/app";
import { changeSettings } from "../../src/server/launch/change";
import { createLaunch } from "../../src/server/start/createLaunch";
import { deliverEmails } from "../../src/server/emails/deliver";
import type { OptInVisit } from "../../src/server/people/optIn";
import { loadLaunch, type LaunchContext } from "../../src/server/launch/launchContext";
import type { RequestOf } from "../../src/contract/endpoint";
import type * as contract from "../../src/contract/offers";
import { changePath } from "../../src/server/offers/savePath";
import { startCheckout } from "../../src/server/checkout/checkout";
import { decideOffer } from "../../src/server/checkout/offerPath";
import type { Decision } from "../../src/core/offers";
import { payCheckout } from "../../src/server/checkout/paying";
import type { PageContent } from "../../src/core/pages";
import { answerPage } from "../../src/server/site/answer";
import type { ClickFacts } from "../../src/server/partners/touch";
import { publishPage, saveDraft } from "../../src/server/pages/publish";
import { Checkout, DeskUser, EmailMessage, Order, Page, Partner, Product, Vendor, type Charge } from "../../src/store/tables";

export interface World {
  app: App;
  owner: DeskUser;
  settings: Record<string, string>;
  inbox: (to: string) => Promise<{ subject: string; text: string; raw: string; messageId: string; headers: Record<string, string> }[]>;
  stop: () => Promise<void>;
}

/** A click on a partner's plain link to the sales page. */
export const clickBy = (code: string): ClickFacts => ({ code, page: "sales", subIds: [] });

/** Somebody of the team, in a role. */
export const someone = (role: DeskUser["role"]): DeskUser => ({
  id: randomUUID(),
  email: `${role}@test.example`,
  name: role,
  passwordHash: "-",
  role,
  endedAt: null,
});

/** A copy of the template database, the real stand-ins, and an app with a test clock on them. */
export const startWorld = async (template = templateName): Promise<World> => {
  const maintenance = process.env["TEST_DATABASE_URL"]!;
  const name = `test_${randomUUID().replaceAll("-", "")}`;
  const admin = new pg.Client({ connectionString: maintenance });
  await admin.connect();
  await admin.query(`create database ${name} template ${template}`);
  await admin.end();
  const ports = {
    app: await freePort(),
    card: await freePort(),
    market: await freePort(),
    mail: await freePort(),
    smtp: await freePort(),
    returns: await freePort(),
  };
  const data = mkdtempSync(join(tmpdir(), "ink-bell-"));
  const settings = stackSettings({
    data,
    databaseUrl: databaseUrl(maintenance, name),
    ports,
    extra: { INKBELL_TEST_CLOCK: "1", INKBELL_LOG: "silent" },
  });
  const stopStandins = await startStandins({ data, settings, ports });
  const app = await theApp(settings);
  subscribeAll();
  const em = app.fork();
  const owner = em.create(DeskUser, { id: randomUUID(), email: "owner@test.example", name: "Owner", passwordHash: "-", role: "owner" });
  await em.persist(owner).flush();
  await em.insert(Vendor, {
    singleton: true,
    name: "Marram & Purl",
    postalAddress: "",
    country: "PT",
    taxNumbers: [],
    senderName: "Marram & Purl",
    senderEmail: "post@marram.example",
    locale: "en-IE",
  });
  await app.refreshVendor();
  for (const [country, rate] of [
    ["PT", 2_300],
    ["DE", 1_900],
    ["CH", 800],
  ] as const) {
    await em.execute("insert into tax_rate (country, tax_class, rate_bp, from_day) values (?, 'standard', ?, '2020-01-01')", [country, rate]);
  }
  return {
    app,
    owner,
    settings,
    inbox: async (to) =>
      ((await (await fetch(`${settings["MAIL_INBOX_URL"]}/api/emails?to=${encodeURIComponent(to)}`)).json()) as { emails: never[] }).emails,
    stop: async () => {
      await app.stop();
      await stopStandins();
    },
  };
};

const hour = 3_600_000;

/** A published launch whose doors are open now, for two days more; with an offer where asked. */
export const openLaunch = async (
  { app, owner }: World,
  change: Partial<{
    opensIn: number;
    closesIn: number;
    price: string;
    taxMode: "inclusive" | "exclusive";
    offer: boolean;
    publish: boolean;
    /** Other answers than those of a launch with dates. */
    request: Partial<NewLaunchRequest>;
    settings: Partial<LaunchSettings>;
  }> = {},
): Promise<LaunchContext> => {
  const now = app.clock.now();
  const at = (hours: number) => wallTimeOf(new Date(now.getTime() + hours * hour), "Europe/Lisbon");
  const { opensIn = -48, closesIn = 48, price = "149.00", taxMode = "inclusive", offer = true, publish = true } = change;
  const request = newLaunchRequest.parse({
    name: `Launch ${randomUUID().slice(0, 8)}`,
    zone: "Europe/Lisbon",
    opensWall: at(opensIn),
    closesWall: at(closesIn),
    productName: "The Workshop",
    price,
    currency: "EUR",
    taxMode,
    ...change.request,
  });
  const em = app.fork();
  const { launch } = await createLaunch(em, owner, request, now);
  await em.nativeUpdate(Product, { id: launch.mainProductId }, { accessAtOnce: true });
  const pages = await em.find(Page, { launchId: launch.id });
  const kinds: PageKind[] = ["optin", "sales", "checkout", "thanks", "closed", "content"];
  if (offer) {
    await addStep({ app, owner }, launch.slug, {
      product: { name: "The Library", price: "67.00" },
      page: { id: pages.find(({ kind }) => kind === "offer")!.id },
    });
    kinds.push("offer");
  }
  if (publish) for (const { id, kind } of pages) if (kinds.includes(kind)) await publishPage(app.fork(), owner, id, "Marram & Purl", now);
  if (change.settings) await setSettings({ app, owner } as World, (await loadLaunch(app.fork(), { id: launch.id }))!, change.settings);
  launchesOf(app).clear();
  return (await loadLaunch(app.fork(), { id: launch.id }))!;
};

type Add = Extract<RequestOf<typeof contract.changePath>["change"], { do: "add" }>;
/** Puts a step on the offer path of a launch as the desk does: before the thank-you page, unless it says where. */
export const addStep = async (
  { app, owner }: Pick<World, "app" | "owner">,
  slug: string,
  step: Pick<Add, "product" | "page"> & Partial<Pick<Add, "at" | "kind">>,
): Promise<LaunchContext> => {
  const { savedPath } = (await loadLaunch(app.fork(), { slug }))!;
  const change = { do: "add" as const, at: { before: "thanks" }, kind: "offer" as const, ...step };
  await changePath(app.fork(), owner, slug, { version: savedPath.version, change }, app.clock.now());
  launchesOf(app).clear();
  return (await loadLaunch(app.fork(), { slug }))!;
};

/** Changes settings of a launch as the desk does. */
export const setSettings = async ({ app, owner }: World, context: LaunchContext, change: Partial<LaunchSettings>): Promise<LaunchContext> => {
  const settings = { ...context.launch.settings, ...change };
  await changeSettings(app.fork(), owner, context, { settings, version: context.launch.version, what: "Set anew" }, app.clock.now());
  launchesOf(app).clear();
  return (await loadLaunch(app.fork(), { id: context.launch.id }))!;
};

/** Gives a page of a launch this content and publishes it, as the desk does. */
export const publishAs = async ({ app, owner }: World, context: LaunchContext, key: string, content: PageContent): Promise<LaunchContext> => {
  const page = await app.fork().findOneOrFail(Page, { launchId: context.launch.id, key });
  await saveDraft(app.fork(), owner, page.id, content, page.version, app.clock.now());
  await publishPage(app.fork(), owner, page.id, "Marram & Purl", app.clock.now());
  launchesOf(app).clear();
  return (await loadLaunch(app.fork(), { id: context.launch.id }))!;
};

/** What an address of a launch answers a browser, whoever it is. */
export const look = ({ app }: World, { launch }: LaunchContext, path: string, visitorId?: string, query: Record<string, string> = {}) =>
  answerPage(app, { slug: launch.slug, path, query: new URLSearchParams(query), visitorId });

export const cards = { good: "9990000000000003", poor: "9990000000000011", asks: "9990000000000037" };

/** A one-time token for a card, from the card field's own endpoint. */
export const cardToken = async ({ settings }: World, number = cards.good): Promise<string> => {
  const response = await fetch(`${settings["CARD_DESK_URL"]}/field/tokens`, {
    method: "POST",
    body: JSON.stringify({ number, expiry: "12/39", cvc: "123" }),
  });
  return ((await response.json()) as { token: string }).token;
};

/** Every charge the card desk knows, from its own books. */
export const deskCharges = ({ settings }: World): Promise<BookedCharge[]> => chargesMade(settings);

export const visitor = (): { visitorId: string; from: string } => ({ visitorId: randomUUID(), from: "127.0.0.1" });
export const buyer = (country = "PT") => ({ email: `ada.${randomUUID().slice(0, 8)}@wool.example`, firstName: "Ada", country });

/** Begins a checkout and pays it. */
export const buy = async (
  world: World,
  context: LaunchContext,
  who = visitor(),
  person = buyer(),
  card = cards.good,
): Promise<{ charge: Charge; order: Order | null; who: typeof who; person: typeof person }> => {
  const checkout = await startCheckout(world.app, world.app.fork(), context, person, who);
  const request = { ...person, checkout: checkout.id, cardToken: await cardToken(world, card), waiver: "yes" as const };
  const charge = await payCheckout(world.app, world.app.fork(), context, request, who);
  return { charge, order: await world.app.fork().findOne(Order, { checkoutId: checkout.id }), who, person };
};

export const addPartner = async ({ app }: World, code: string, rateBp = 4_000, email = `${code}@partner.example`): Promise<Partner> => {
  const em = app.fork();
  const partner = em.create(Partner, { id: randomUUID(), code, name: code.toUpperCase(), email, passwordHash: "-", rateBp });
  await em.persist(partner).flush();
  return partner;
};

/** Decides an offer in the browser that placed the order. */
export const decide = async (
  { app }: World,
  context: LaunchContext,
  orderId: string,
  step: string,
  decision: Decision,
): Promise<Charge | undefined> => {
  const order = await app.fork().findOneOrFail(Order, { id: orderId });
  const checkout = await app.fork().findOneOrFail(Checkout, { id: order.checkoutId! });
  return decideOffer(app, app.fork(), context, orderId, step, decision, { visitorId: checkout.visitorId });
};

/** Sends one email now, whenever it is due, as a worker does that has claimed it. */
export const sendEmail = async ({ app }: World, id: string): Promise<void> => {
  const worker = randomUUID();
  const em = app.fork();
  const rows = await em.execute<object[]>(
    "update email_message set state = 'sending', taken_by = ?, tries = tries + 1 where id = ? and state = 'due' returning *",
    [worker, id],
  );
  await deliverEmails(
    app,
    worker,
    rows.map((row) => em.map(EmailMessage, row as never)),
  );
};

/** Moves the world's clock. */
export const advance = ({ app }: World, minutes: number): Promise<void> =>
  app.clock.setTo(app.fork(), new Date(app.clock.now().getTime() + minutes * 60_000));

/** Runs a worker while something is awaited. */
export const withWorker = async <T>({ app }: World, during: () => Promise<T>): Promise<T> => {
  const worker = new Worker(app);
  await worker.start();
  try {
    return await during();
  } finally {
    await worker.stop();
  }
};

/** Waits until a probe answers something; on a quiet machine that takes at most `seconds`. */
export const until = async <T>(probe: () => Promise<T | undefined | false>, seconds = 15): Promise<T> => {
  // A machine that others use as well may take several times as long; it costs nothing where it does not.
  const end = Date.now() + seconds * 4_000;
  for (;;) {
    const found = await probe();
    if (found) return found;
    if (Date.now() > end) throw new Error(`nothing came of ${probe.toString()} within ${seconds * 4} s`);
    await new Promise((next) => setTimeout(next, 100));
  }
};

/** How an opt-in form was sent: by a person, from this visitor's browser, on a form that asks for no confirmation. */
export const sentBy = (visitorId: string, now: Date, change: Partial<OptInVisit> = {}): OptInVisit => ({
  visitorId,
  from: visitorId,
  now,
  page: "optin",
  form: { id: "form", double: "never" },
  consent: "Yes, you may write to me.",
  shownAt: String(now.getTime() - 5_000),
  ...change,
});
