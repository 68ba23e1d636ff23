import { pageLeaves, richOf, standardLook, templates, updateBlock, withHeadline, type Arm, type Look, type PageContent } from "../src/core/pages";
import {
  deadlineOf,
  plannedPages,
  initialSettings,
  priceAt,
  resolveWallTime,
  unlocksAt,
  wallTimeOf,
  type LaunchSettings,
  type PlannedPage,
  type LaunchShape,
  type PersonalClock,
  type ResolvedWallTime,
} from "../src/core/launch";
import { hashPassword } from "../src/server/platform/access/session";
import { loadLaunch } from "../src/server/launch/launchContext";
import { compileFor } from "../src/server/pages/compileFor";
import { emptyPath, insertOn, type CouponRequest, type StepKind } from "../src/core/offers";
import { savePath } from "../src/server/offers/savePath";
import { ensureTaxTable } from "../src/server/products/taxTable";
import { DeskUser, Launch, Page, Partner, Product, SendingSetting, Vendor } from "../src/store/tables";
import type { EntityManager } from "../src/store/orm";
import { ensureEventPartitions } from "../src/store/events/partitions";
import { makeCoupon } from "../src/server/products/coupons";
import type { PastPayment } from "../standins/card-desk/past";
import { seedCrowd, type CrowdPlan } from "./crowd";
import { logins } from "./logins.mjs";
import { Payments } from "./payments";
import { seeded, type Random } from "./random";
import { demoPage, demoPages } from "./pages";
import type { FileStore } from "../src/outside/fileStore";
import { assignVariants, ringPast, runPastSequence, sendPastOneOff } from "./pastEmails";
import { readEmails } from "./readers";
import { seedPeople } from "./people";
import { drawPictures } from "./pictures";
import { beforeTheClose, correctedChart, demoLimits, ganseyEmails, plainEmails, primerEmails, primerSequence } from "./emails";
import type { EmailContent } from "../src/core/emails";
import { writeEmails } from "../src/store/emails/launchEmails";
import { seedVoices } from "./voices";

const day = 86_400_000;
const zone = "Europe/Lisbon";
export const demoVendor = "Marram & Purl";

const wall = (at: Date, time: string): ResolvedWallTime => resolveWallTime(`${wallTimeOf(at, zone).slice(0, 10)}T${time}`, zone) as ResolvedWallTime;

interface LaunchSeed {
  slug: string;
  name: string;
  shape: LaunchShape;
  settings: LaunchSettings;
  createdAt: Date;
  product: Product;
  pages: Record<string, PageContent>;
  look?: Look;
  /** Pages of content beside those it is laid out with, by their addresses. */
  more?: string[];
  /** What is offered after the payment, in the order of the no rail. */
  offers?: { product: Product; slug: string; kind: StepKind }[];
  publishedAt?: Date;
  /** What its emails say, where it is not the usual. */
  emails?: Record<string, EmailContent>;
}

const makeLaunch = async (em: EntityManager, random: Random, seed: LaunchSeed) => {
  const launch = em.create(Launch, {
    id: random.uuid(),
    slug: seed.slug,
    name: seed.name,
    zone,
    shape: seed.shape,
    settings: seed.settings,
    look: seed.look ?? standardLook,
    version: 1,
    hookSecret: `whsec_${Buffer.from(random.uuid().slice(0, 24)).toString("base64")}`,
    mainProductId: seed.product.id,
    creditWindowDays: 60,
    recoveryDelayMinutes: 30,
    createdAt: seed.createdAt,
  });
  await em.persist(launch).flush();
  const own: PlannedPage[] = (seed.more ?? []).map((slug) => ({ key: slug, kind: "content", slug }));
  const offers = (seed.offers ?? []).map(({ slug }): PlannedPage => ({ key: slug, kind: "offer", slug }));
  const begun = [...plannedPages(seed.shape).filter(({ kind }) => kind !== "offer" || !seed.publishedAt), ...offers, ...own];
  const pages: Page[] = [];
  for (const one of begun) {
    const { key, kind, slug } = one;
    const words = demoPage(seed.pages, one, seed.product.name);
    const page = em.create(Page, {
      id: random.uuid(),
      launchId: launch.id,
      kind,
      key,
      slug,
      draft: words,
      version: 1,
      published: seed.publishedAt ? words : null,
      publishedAt: seed.publishedAt ?? null,
      compiled: seed.publishedAt ? await compileFor(em, launch, { key }, words, demoVendor) : null,
    });
    pages.push(page);
  }
  await em.persist(pages).flush();
  await writeEmails(em, launch.id, { ...plainEmails(seed.settings.emails), ...seed.emails }, seed.createdAt);
  // Each offer stands on the no rail of the one before: what was declined is followed by something smaller.
  let path = emptyPath;
  for (const offer of seed.offers ?? []) {
    const page = pages.find(({ slug }) => slug === offer.slug)!;
    const made = { id: random.uuid(), kind: offer.kind, productId: offer.product.id, pageId: page.id, sure: false };
    const last = path.steps.at(-1);
    path = insertOn(path, last ? { from: last.id, rail: "no" } : { from: "checkout" }, made);
  }
  if (path.steps.length > 0) await savePath(em, launch.id, path, { what: "Laid", userId: null, now: seed.createdAt });
  const context = (await loadLaunch(em, { id: launch.id }))!;
  return { launch, path, plan: context.plan };
};

/** A second version of a page, tested beside it with as many visitors. */
const makeVariant = async (em: EntityManager, launch: Launch, key: string, content: PageContent, at: Date): Promise<Record<string, Arm[]>> => {
  const page = await em.findOneOrFail(Page, { launchId: launch.id, key });
  const compiled = await compileFor(em, launch, { key: `${key}~b` }, content, demoVendor);
  const made = {
    id: seeded(7).uuid(),
    launchId: launch.id,
    kind: page.kind,
    key: `${key}~b`,
    slug: `${page.slug}~b`,
    variantOf: page.id,
    weight: 1,
    version: 1,
  };
  await em.persist(em.create(Page, { ...made, draft: content, published: content, compiled, publishedAt: at })).flush();
  return {
    [key]: [
      { variant: "A", weight: 1 },
      { variant: "B", weight: 1 },
    ],
  };
};

/** Puts the subscription on the always-on launch's path, as it was inserted this morning: who bought before walked no path. */
const offerClub = async (em: EntityManager, random: Random, launch: Launch, club: Product, now: Date): Promise<void> => {
  const slug = "pattern-club";
  const at = new Date(now.getTime() - 5 * 3_600_000);
  const blank = withHeadline(templates.find(({ id }) => id === "offer-bill")!.make(club.name), "One new pattern a month, to cast on at once.");
  const text = pageLeaves(blank).find(({ type }) => type === "text")!;
  const rich = richOf(
    "The Pattern Club sends a pattern on the first of each month, with its chart and a film of the hard part. All earlier ones are yours as well, for as long as you stay.",
  );
  const words = updateBlock(blank, text.id, (one) => ({ ...one, rich }) as typeof one);
  const page = em.create(Page, {
    id: random.uuid(),
    launchId: launch.id,
    kind: "offer",
    key: slug,
    slug,
    draft: words,
    published: words,
    version: 1,
    publishedAt: at,
    compiled: await compileFor(em, launch, { key: slug }, words, demoVendor),
  });
  await em.persist(page).flush();
  const path = insertOn(emptyPath, { from: "checkout" }, { id: random.uuid(), kind: "offer", productId: club.id, pageId: page.id, sure: true });
  await savePath(em, launch.id, path, { what: "Pattern Club added", userId: null, now: at });
};

/** Gives the buyer of the fullest order of a launch the login of the demo. */
const nameBuyer = async (em: EntityManager, launchId: string): Promise<void> => {
  const { email, password } = logins.find(({ role }) => role === "buyer")!;
  await em.execute(
    `update contact set email = ?, first_name = 'Wren', password_hash = ? where id = (
       select s.contact_id from sale_order s join order_line n on n.order_id = s.id where s.launch_id = ? and s.source = 'own'
       group by s.id order by count(*) desc, s.placed_at limit 1)`,
    [email, await hashPassword(password), launchId],
  );
};

/** Codes that were given out: one that was used, and one that waits for the spring fair. */
const giveCodes = async (em: EntityManager, products: string[], at: Date): Promise<void> => {
  const owner = await em.findOneOrFail(DeskUser, { role: "owner" });
  const give = (label: string, code: string, uses: number, off: CouponRequest["off"]) =>
    makeCoupon(
      em,
      owner,
      { label, off, codes: { kind: "shared", code, uses }, products, from: "", until: "", zone, partner: null, oncePerPerson: true },
      at,
    );
  await give("Readers of the knitting guild's letter", guildCode.code, 60, { kind: "percent", percent: String(guildCode.bp / 100) });
  await give("Cards laid out at the spring fair", "FAIR-20", 100, { kind: "amount", amount: "20.00", currency: "EUR" });
};
const guildCode = { code: "GUILD-15", bp: 1_500, share: 0.09 };

/** The made-up vendor's details, as they would be saved at the desk. */
export const seedVendor = (em: EntityManager): void => {
  em.persist(
    em.create(Vendor, {
      singleton: true,
      name: demoVendor,
      postalAddress: "Rua da Lã 12\n1200-001 Lisboa\nPortugal",
      country: "PT",
      taxNumbers: [{ country: "PT", number: "PT999999990" }],
      senderName: demoVendor,
      senderEmail: "post@marram.example",
      locale: "en-IE",
    }),
  );
  em.persist(em.create(SendingSetting, { singleton: true, version: 1, limits: demoLimits }));
};

/**
 * Seeds the made-up vendor Marram & Purl around `now`: a launch with doors open about two days before its closing bell,
 * an always-on one with a clock for each person, one that is finished, one being drafted, and some thousands of visitors. Deterministic for a given `now`.
 * Answers the card payments behind its orders.
 */
export const seedDemo = async (em: EntityManager, files: FileStore, now: Date): Promise<PastPayment[]> => {
  const random = seeded(20_26);
  const payments = new Payments();
  for (const login of logins.filter(({ role }) => role === "owner" || role === "viewer")) {
    em.persist(
      em.create(DeskUser, {
        id: random.uuid(),
        email: login.email,
        name: login.what,
        passwordHash: await hashPassword(login.password),
        role: login.role as "owner",
      }),
    );
  }
  seedVendor(em);
  const names: [string, string, string, number][] = [
    ["Skerry Yarns", "isla@skerry.example", "skerry", 4000],
    ["Tideline Needles", "post@tideline.example", "tideline", 4000],
    ["The Wool Loft", "hello@woolloft.example", "woolloft", 5000],
    ["Purl and Pebble", "team@purlpebble.example", "pebble", 3500],
    ["Northing Knits", "sigrid@northing.example", "northing", 4000],
  ];
  const partnerHash = await hashPassword(logins.find(({ role }) => role === "partner")!.password);
  const partners = names.map(([name, email, code, rateBp]) =>
    em.create(Partner, { id: random.uuid(), name, email, code, rateBp, passwordHash: partnerHash }),
  );
  const product = (name: string, label: string, price: number, description: string, refundDays = 30): Product =>
    em.create(Product, {
      id: random.uuid(),
      name,
      privateLabel: label,
      taxClass: "standard",
      refundDays,
      description,
      priceMinor: price,
      currency: "EUR",
      taxMode: "inclusive",
      // The vendor lets buyers into a member site of its own.
      accessAtOnce: true,
    });
  const workshop = product(
    "The Gansey Workshop",
    "Main, six weeks",
    14_900,
    "A six-week video course on knitting fishermen's sweaters, with a chart you draw yourself.",
    60,
  );
  const library = product("Stitch Library, 240 charts", "One-time offer", 6_700, "240 gansey patterns as charts to print.");
  const lite = product("Stitch Library Lite", "Downsell", 2_900, "80 of the 240 gansey patterns, as charts to print.");
  const yoke = product("Yoke and Colour", "Main, spring course", 12_900, "A five-week course on round yokes in many colours.");
  const mittens = product("Mittens in a Weekend", "Main, draft", 4_900, "Two days, two mittens.");
  const paper = product("Chart Paper Pack", "Order bump", 1_700, "Sixty sheets of squared paper at the gauge of the course.");
  const primer = product("The Cast-On Primer", "Opener for cold traffic", 900, "Forty pages and eleven short films on casting on.");
  const club = product("Pattern Club", "Continuity", 1_200, "A new pattern on the first of each month, and all that came before it.");
  club.terms = { kind: "subscription", every: { unit: "month", n: 1 }, trialDays: 14, setup: 0, times: null };
  for (const digital of [workshop, yoke, mittens, club]) digital.kind = "library";
  workshop.prices = { USD: 16_900, GBP: 12_900 };
  library.prices = { USD: 7_700, GBP: 5_900 };
  lite.prices = { USD: 3_300, GBP: 2_500 };
  paper.prices = { USD: 1_900, GBP: 1_500 };
  await em.persist([...partners, workshop, library, lite, yoke, mittens, paper, primer, club]).flush();
  await em.execute("insert into asked_price select id, currency, price_minor, ?::timestamptz from product", [new Date(now.getTime() - 120 * day)]);
  await ensureTaxTable(em);

  const closes = wall(new Date(now.getTime() + 2.6 * day), "00:00");
  const opens = wall(new Date(closes.instant.getTime() - 5.2 * day), "18:00");
  const runUpFrom = new Date(opens.instant.getTime() - 9 * day);
  const wallOf = (at: Date) => wallTimeOf(at, zone);
  const risesAt = wall(new Date(opens.instant.getTime() + 2 * day), "00:00");
  const dated = (runUp: Date, from: ResolvedWallTime, to: ResolvedWallTime) =>
    ({ kind: "fixed", runUp: wallOf(runUp), opens: from.becomes, closes: to.becomes }) as const;
  const pictures = await drawPictures(em, files, now);
  workshop.mediaId = pictures.gansey.id;
  yoke.mediaId = pictures.yoke.id;
  const words = demoPages(pictures, paper.id);
  const begun = initialSettings("full", dated(runUpFrom, opens, closes));
  const main = await makeLaunch(em, random, {
    slug: "gansey",
    name: "The Gansey Workshop",
    shape: "full",
    settings: {
      ...begun,
      emails: [...begun.emails.filter(({ hangsOn }) => hangsOn === "opening"), ...beforeTheClose],
      countdowns: [
        ...begun.countdowns,
        {
          id: "episodes",
          form: "card",
          covers: { mode: "only", pages: [], folders: ["episodes"] },
          to: ["opening", "closing"],
          fromMinutes: null,
          untilMinutes: 0,
        },
      ],
      // Cheaper for the first days: a price bell that has rung.
      prices: [
        { id: "first-days", from: opens.becomes, minor: 12_900 },
        { id: "full-price", from: risesAt.becomes, minor: 14_900 },
      ],
      episodes: [
        ...begun.episodes,
        {
          id: "live",
          page: "episodes/4",
          unlock: { on: "start" },
          live: {
            starts: wall(new Date(now.getTime() + day), "19:00").becomes,
            lengthMinutes: 60,
            earlyMinutes: 15,
            url: "https://meet.marram.example/charts",
            replay: "closing",
          },
        },
        { id: "episode-5", page: "episodes/5", unlock: { on: "bell", bell: "closing", minutes: -1440 }, live: null },
      ],
      seats: 240,
      featured: [{ id: "first-day", from: opens.becomes, to: wall(new Date(opens.instant.getTime() + day), "18:00").becomes, rateBp: 6_000 }],
    },
    createdAt: runUpFrom,
    product: workshop,
    pages: words.gansey,
    emails: ganseyEmails(pictures),
    more: ["episodes/4", "episodes/5"],
    offers: [
      { product: library, slug: "stitch-library", kind: "offer" },
      { product: lite, slug: "stitch-library-lite", kind: "downsell" },
    ],
    publishedAt: runUpFrom,
  });
  const tested = await makeVariant(
    em,
    main.launch,
    "sales",
    withHeadline(words.gansey["sales"]!, "From 280 stitches to a sweater that fits."),
    runUpFrom,
  );
  const yokeCloses = wall(new Date(now.getTime() - 52 * day), "00:00");
  const yokeOpens = wall(new Date(yokeCloses.instant.getTime() - 5 * day), "10:00");
  const yokeRunUp = new Date(yokeOpens.instant.getTime() - 11 * day);
  const past = await makeLaunch(em, random, {
    slug: "yoke",
    name: "Yoke and Colour",
    shape: "full",
    settings: initialSettings("full", dated(yokeRunUp, yokeOpens, yokeCloses)),
    createdAt: yokeRunUp,
    product: yoke,
    pages: words.yoke,
    publishedAt: yokeRunUp,
  });
  const clock: PersonalClock = {
    kind: "personal",
    trigger: { on: "opt_in", page: null },
    length: { kind: "until", minutes: 3 * 1440, time: "20:00" },
    rearm: { restMinutes: 30 * 1440, times: 1 },
  };
  const primerFrom = new Date(now.getTime() - 45 * day);
  const always = await makeLaunch(em, random, {
    slug: "primer",
    name: "The Cast-On Primer",
    shape: "short",
    settings: {
      ...initialSettings("short", clock),
      sequences: [primerSequence],
      countdowns: [
        {
          id: "bar",
          form: "bar_top",
          covers: { mode: "only", pages: ["checkout"], folders: [] },
          to: ["closing"],
          fromMinutes: null,
          untilMinutes: 0,
        },
        { id: "card", form: "card", covers: { mode: "only", pages: ["sales"], folders: [] }, to: ["closing"], fromMinutes: null, untilMinutes: 0 },
      ],
    },
    createdAt: primerFrom,
    product: primer,
    pages: words.primer,
    emails: primerEmails(),
    look: { theme: "letter", accent: "#2F6B4F", second: "#22352B", type: "book", logo: null },
    publishedAt: primerFrom,
  });
  const draftOpens = wall(new Date(now.getTime() + 19 * day), "10:00");
  const draftCloses = wall(new Date(now.getTime() + 23 * day), "20:00");
  const draft = await makeLaunch(em, random, {
    slug: "mittens",
    name: "Mittens in a Weekend",
    shape: "full",
    settings: initialSettings("full", dated(new Date(now.getTime() - day), draftOpens, draftCloses)),
    createdAt: new Date(now.getTime() - day),
    product: mittens,
    pages: {},
    look: { theme: "lantern", accent: "#E0A33A", second: "#2B2138", type: "signboard", logo: null },
  });

  await ensureEventPartitions(em, yokeRunUp, new Date(now.getTime() + 21 * day));
  await giveCodes(em, [workshop.id], new Date(opens.instant.getTime() - day));
  const common = { partners, random, payments };
  const crowds: CrowdPlan[] = [
    {
      ...common,
      launch: past.launch,
      product: yoke,
      people: 3_900,
      span: { from: yokeRunUp, opens: yokeOpens.instant, closes: yokeCloses.instant },
      price: () => yoke.priceMinor,
      until: yokeCloses.instant,
      signUp: 0.42,
      sales: 0.5,
      checkout: 0.11,
      paid: 0.62,
    },
    {
      ...common,
      launch: main.launch,
      tests: tested,
      product: workshop,
      bump: { product: paper, take: 0.31 },
      coupon: guildCode,
      episodes: [0.71, 0.55, 0.48].map((seen, index) => ({
        seen,
        page: `episodes/${index + 1}`,
        opens: unlocksAt(main.plan, main.plan.episodes[index]!.unlock, {}, { opens: opens.instant, closes: closes.instant }).at!,
      })),
      offers: {
        path: main.path,
        steps: Object.fromEntries(
          main.path.steps.map(({ id, kind }) => [id, kind === "offer" ? { product: library, take: 0.22 } : { product: lite, take: 0.17 }]),
        ),
      },
      people: 6_200,
      span: { from: runUpFrom, opens: opens.instant, closes: closes.instant },
      featured: main.plan.featured,
      price: (at) => priceAt(main.plan, at, { sold: 0 }).minor,
      until: now,
      signUp: 0.4,
      sales: 0.46,
      checkout: 0.075,
      paid: 0.5,
    },
    {
      ...common,
      launch: always.launch,
      product: primer,
      people: 1_400,
      span: { from: primerFrom, opens: primerFrom, closes: now },
      deadline: (start) => deadlineOf(clock.length, zone, start),
      price: () => primer.priceMinor,
      until: now,
      signUp: 0.55,
      sales: 1,
      checkout: 0.13,
      paid: 0.66,
    },
  ];
  for (const plan of crowds) await seedCrowd(em, plan);
  await seedVoices(em, random, main.launch.id, { partner: partners[0]!, picture: pictures.rope.id, owner: logins[0]!.email }, now);
  await nameBuyer(em, main.launch.id);
  await offerClub(em, random, always.launch, club, now);
  // The crowd's deeds are as old as they are; nothing of them waits to be sent now.
  await em.execute("delete from outbox");
  await seedPeople(em, random, { launch: main.launch.id, club: club.id, charts: library.id }, now);
  for (const { launch } of [main, past, always, draft]) await ringPast(em, random, launch.id, now);
  await sendPastOneOff(em, main.launch.id, correctedChart, wall(new Date(now.getTime() - day), "17:00").instant);
  await assignVariants(em, main.launch.id, "three-days");
  await runPastSequence(em, always.launch.id, always.plan, primerFrom, now);
  await readEmails(em, now);
  return payments.notified;
};
