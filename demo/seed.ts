import { pageSlugs, templates, type PageContent } from "../src/core/pages";
import { resolveWallTime, wallTimeOf, type PageKind, type ResolvedWallTime } from "../src/core/launch";
import { hashPassword } from "../src/server/app/session";
import { compilePage } from "../src/public/compile";
import { DeskUser, Launch, Page, Partner, PathStep, Product } from "../src/store/entities";
import type { EntityManager } from "../src/store/orm";
import { ensureEventPartitions } from "../src/store/eventPartitions";
import { seedCrowd, type CrowdPlan } from "./crowd";
import { logins } from "./logins.mjs";
import { seeded, type Random } from "./random";
import { demoWords } from "./words";

const day = 86_400_000;
const zone = "Europe/Lisbon";
export const demoVendor = "Marram & Purl";

const wall = (at: Date, time: string): ResolvedWallTime => resolveWallTime(`${wallTimeOf(at, zone).slice(0, 10)}T${time}`, zone) as ResolvedWallTime;

interface LaunchSeed {
  slug: string;
  name: string;
  runUpFrom: Date;
  opens: ResolvedWallTime;
  closes: ResolvedWallTime;
  product: Product;
  words: Record<PageKind, PageContent>;
  offer?: { product: Product; slug: string };
  publishedAt?: Date;
}

const makeLaunch = async (em: EntityManager, random: Random, seed: LaunchSeed) => {
  const launch = em.create(Launch, {
    id: random.uuid(),
    slug: seed.slug,
    name: seed.name,
    zone,
    runUpFrom: seed.runUpFrom,
    opensAt: seed.opens.instant,
    closesAt: seed.closes.instant,
    opensWall: seed.opens.becomes,
    closesWall: seed.closes.becomes,
    graceMinutes: 10,
    mainProductId: seed.product.id,
    creditWindowDays: 60,
    recoveryDelayMinutes: 30,
    createdAt: seed.runUpFrom,
  });
  await em.persist(launch).flush();
  const kinds = (Object.keys(pageSlugs) as PageKind[]).filter((kind) => kind !== "offer" || seed.offer || !seed.publishedAt);
  const pages = kinds.map((kind) =>
    em.create(Page, {
      id: random.uuid(),
      launchId: launch.id,
      kind,
      slug: kind === "offer" && seed.offer ? seed.offer.slug : pageSlugs[kind],
      draft: seed.words[kind],
      version: 1,
      published: seed.publishedAt ? seed.words[kind] : null,
      publishedAt: seed.publishedAt ?? null,
      compiled: seed.publishedAt ? compilePage({ kind, content: seed.words[kind], launch, vendor: demoVendor }) : null,
    }),
  );
  await em.persist(pages).flush();
  let step: PathStep | undefined;
  if (seed.offer) {
    const page = pages.find(({ kind }) => kind === "offer")!;
    step = em.create(PathStep, {
      id: random.uuid(),
      launchId: launch.id,
      pageId: page.id,
      productId: seed.offer.product.id,
      position: 1,
      yesTo: "thanks",
      noTo: "thanks",
    });
    await em.persist(step).flush();
  }
  return { launch, step };
};

/**
 * Seeds the made-up vendor Marram & Purl around `now`: a launch with doors open about two days before its closing bell,
 * one that is finished, one being drafted, and some thousands of visitors. Deterministic for a given `now`.
 */
export const seedDemo = async (em: EntityManager, now: Date): Promise<void> => {
  const random = seeded(20_26);
  for (const login of logins.filter(({ role }) => role !== "partner")) {
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
    });
  const workshop = product(
    "The Gansey Workshop",
    "Main, six weeks",
    14_900,
    "A six-week video course on knitting fishermen's sweaters, with a chart you draw yourself.",
    60,
  );
  const library = product("Stitch Library, 240 charts", "One-time offer", 6_700, "240 gansey patterns as charts to print.");
  const yoke = product("Yoke and Colour", "Main, spring course", 12_900, "A five-week course on round yokes in many colours.");
  const mittens = product("Mittens in a Weekend", "Main, draft", 4_900, "Two days, two mittens.");
  await em.persist([...partners, workshop, library, yoke, mittens]).flush();
  // Standard rates, value from memory; an operator checks them before trading.
  const rates: [string, number][] = [
    ["PT", 2300],
    ["DE", 1900],
    ["FR", 2000],
    ["ES", 2100],
    ["IT", 2200],
    ["NL", 2100],
    ["BE", 2100],
    ["AT", 2000],
    ["IE", 2300],
    ["DK", 2500],
    ["SE", 2500],
    ["GB", 2000],
  ];
  for (const [country, rate] of rates)
    await em.execute("insert into tax_rate (country, tax_class, rate_bp, from_day) values (?, 'standard', ?, '2020-01-01')", [country, rate]);

  const closes = wall(new Date(now.getTime() + 2.6 * day), "00:00");
  const opens = wall(new Date(closes.instant.getTime() - 5.2 * day), "18:00");
  const runUpFrom = new Date(opens.instant.getTime() - 9 * day);
  const main = await makeLaunch(em, random, {
    slug: "gansey",
    name: "The Gansey Workshop",
    runUpFrom,
    opens,
    closes,
    product: workshop,
    words: demoWords.gansey,
    offer: { product: library, slug: "stitch-library" },
    publishedAt: runUpFrom,
  });
  const yokeCloses = wall(new Date(now.getTime() - 52 * day), "00:00");
  const yokeOpens = wall(new Date(yokeCloses.instant.getTime() - 5 * day), "10:00");
  const past = await makeLaunch(em, random, {
    slug: "yoke",
    name: "Yoke and Colour",
    runUpFrom: new Date(yokeOpens.instant.getTime() - 11 * day),
    opens: yokeOpens,
    closes: yokeCloses,
    product: yoke,
    words: demoWords.yoke,
    publishedAt: new Date(yokeOpens.instant.getTime() - 11 * day),
  });
  const draftOpens = wall(new Date(now.getTime() + 19 * day), "10:00");
  const draftCloses = wall(new Date(now.getTime() + 23 * day), "20:00");
  await makeLaunch(em, random, {
    slug: "mittens",
    name: "Mittens in a Weekend",
    runUpFrom: new Date(now.getTime() - day),
    opens: draftOpens,
    closes: draftCloses,
    product: mittens,
    words: templates("Mittens in a Weekend"),
  });

  await ensureEventPartitions(em, past.launch.runUpFrom, new Date(now.getTime() + 21 * day));
  const common = { partners, random };
  const crowds: CrowdPlan[] = [
    {
      ...common,
      launch: past.launch,
      product: yoke,
      people: 3_900,
      until: yokeCloses.instant,
      signUp: 0.42,
      sales: 0.5,
      checkout: 0.11,
      paid: 0.62,
      take: 0,
    },
    {
      ...common,
      launch: main.launch,
      product: workshop,
      offer: { product: library, stepId: main.step!.id },
      people: 6_200,
      until: now,
      signUp: 0.4,
      sales: 0.46,
      checkout: 0.075,
      paid: 0.5,
      take: 0.24,
    },
  ];
  for (const plan of crowds) await seedCrowd(em, plan);
  // The crowd's deeds are as old as they are; nothing of them waits to be sent now.
  await em.execute("delete from outbox");
};
