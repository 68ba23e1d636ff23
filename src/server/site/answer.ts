import { publicWords } from "../../core/words";
import { usualLocale } from "../../core/money";
import { variantSeen } from "../../store/pages/variantSeen";
import {
  identify,
  type Identity,
  isPersonal,
  type LaunchContext,
  launchesOf,
  listedSince,
  loadLaunch,
  personIdOf,
  startByVisit,
  stopClock,
  stopsAtPage,
  viewerOf,
  visitStarts,
} from "../launch";
import { countersFor } from "../offers";
import { armsOf } from "./armCache";
import { randomUUID } from "node:crypto";
import {
  availability,
  behindAnOrder,
  mayStart,
  priceAt,
  view,
  viewOfAll,
  type AddressView,
  type Counters,
  type LaunchPage,
  type LaunchView,
  type Viewer,
  type PageKind,
} from "../../core/launch";
import { strikable } from "../../core/offers";
import { assignArm, trackingOf, type CompiledPage } from "../../core/pages";
import { consentWords } from "../../core/people";
import type { BumpFacts, Extras, OrderFacts, PageFacts, Values } from "../../public/facts";
import { sourceOf, type EventDataOf } from "../../core/events";
import { notice } from "../../public/forms";
import { html, type Html } from "../../public/html";
import { lockedSentence } from "../../public/run";
import {
  type App,
  cookie,
  clickCookie,
  firstVisitHeader,
  guessCountry,
  messagePage,
  type PublicAnswer,
  publicHeaders,
  type PublicRequest,
  readLink,
  redirect,
  tryCookie,
  visitorCookie,
} from "../platform";
import { clickSeen } from "../emails";
import { currentCheckout, keepCode, logTry, namedAlone, restoreCheckout } from "../checkout";
import { Charge } from "../../store/tables";
import { clickOf, recordTouch } from "../partners";
import { personOf } from "../identity";
import { asksMore, extrasOf } from "./extras";
import { orderFinders, orderOf } from "./order/orderFacts";
import type { OrderRoom } from "./order/orderSums";
import { tryingOut, type Trying } from "./tryOut";
import { renderForAll, renderPage } from "./render";

interface Room extends OrderRoom {
  /** Who looks, by their own clock. */
  identity: Identity;
  /** What this person sees, and the page that answers. */
  seen: LaunchView;
  address: AddressView;
  page: LaunchPage;
}

/** What was seen, for the log of events. */
const eventKinds: Partial<Record<PageKind, "visited" | "saw_sales">> = {
  sales: "saw_sales",
  optin: "visited",
  closed: "visited",
  checkout: "visited",
  content: "visited",
};

const addressOf = (seen: LaunchView, path: string): AddressView | undefined => seen.addresses.find(({ slug }) => slug === path);

/** Pages that know who looks: behind an order, and at a checkout. */
const asksWho = (kind: PageKind): boolean => behindAnOrder(kind) || kind === "checkout";

const uncounted: Counters = { sold: 0 };
/** Counters are counted only where a price or a seat hangs on them. Undefined where they must be counted first. */
const countersAtHand = (app: App, context: LaunchContext): Counters | undefined => {
  const { rising, seats } = context.plan.settings;
  return rising !== null || seats !== null ? countersFor(app).atHand(context) : uncounted;
};

const plainViews = new Map<string, EventDataOf<"visited">>();

/** What is kept with a view. Most come by a plain address: those of one variant and device share theirs, which costs a crowd nothing. */
const viewData = (variant: string, { device, query }: Pick<PublicRequest, "device" | "query">): EventDataOf<"visited"> => {
  if (query.size > 0) return { variant, ...(device ? { device } : {}), ...sourceOf(query) };
  const name = `${variant} ${device}`;
  let data = plainViews.get(name);
  if (!data) plainViews.set(name, (data = { variant, ...(device ? { device } : {}) }));
  return data;
};

/**
 * Notes that a page was seen, once its answer is a page; answers the cookies that go with it. A browser that has shown no
 * cookie yet is given one that holds the visit: it is counted when it comes back.
 */
const logView = (
  app: App,
  context: LaunchContext,
  request: PublicRequest,
  view: { page: LaunchPage; visitorId: string; variant?: string; now: Date },
): string[] => {
  const fresh = request.visitorId ? [] : [cookie(app, visitorCookie, view.visitorId)];
  const kind = eventKinds[view.page.kind];
  if (!kind || request.form || request.passive) return fresh;
  const data = viewData(view.variant ?? "A", request);
  const { key: page } = view.page;
  const launchId = context.launch.id;
  if (!request.visitorId) return [...fresh, firstVisitHeader(app, { launch: launchId, view: { kind, page, data } })];
  app.events.add({ launchId, visitorId: view.visitorId, kind, page, data, at: view.now, country: guessCountry(request.acceptLanguage) });
  return fresh;
};

/** Counts what a browser did on its first visit, now that it has come again with its cookies. Answers whether there was anything. */
export const countFirstVisit = async (app: App, request: Pick<PublicRequest, "visitorId" | "firstVisit" | "acceptLanguage">): Promise<boolean> => {
  const { visitorId, firstVisit } = request;
  const context = visitorId && firstVisit ? await launchesOf(app).byId(firstVisit.launch) : undefined;
  if (!visitorId || !firstVisit || !context) return false;
  const now = app.clock.now();
  if (firstVisit.click) await recordTouch(app.fork(), context.launch.id, firstVisit.click, visitorId, now);
  if (firstVisit.view)
    app.events.add({ launchId: context.launch.id, visitorId, ...firstVisit.view, at: now, country: guessCountry(request.acceptLanguage) });
  return true;
};

/** Facts about who looks, as far as the asked address needs them: most pages of a launch with fixed dates need none. */
const lookUp = async (
  room: Pick<Room, "app" | "em" | "context" | "request" | "now" | "identity">,
  page: LaunchPage,
  seatsOpen: ReturnType<typeof availability>,
): Promise<Viewer> => {
  const { context, identity } = room;
  const behindOrder = page.kind === "offer" || page.kind === "thanks";
  const [who, order, open] = [
    isPersonal(context.plan) ? await viewerOf(room.em, context, identity) : {},
    behindOrder ? await orderOf(room) : undefined,
    // Only a checkout looks back: the grace time asks when it was begun.
    page.kind === "checkout" && identity.visitorId ? await currentCheckout(room.em, context, identity.visitorId) : undefined,
  ];
  const { em } = room;
  // A seat that is theirs stays theirs: they have paid, or are paying; what is bought by itself takes none.
  const seated =
    seatsOpen !== "open" &&
    page.kind === "checkout" &&
    (namedAlone(context, room.request.query.get("of") ?? room.request.form?.values["of"]) !== undefined ||
      (open !== undefined &&
        (open.paidAt != null || (await em.count(Charge, { checkoutId: open.id, state: { $nin: ["declined", "voided"] } })) > 0)));
  const subscribedAt = seatsOpen === "list_only" ? ((await listedSince(em, context, identity)) ?? who.subscribedAt) : who.subscribedAt;
  return { ...who, subscribedAt, seated, orderedAt: order?.placedAt, checkoutBegunAt: open?.begunAt };
};

/** Starts the clock of who comes, where this visit starts it. */
const arrive = async (
  room: Pick<Room, "em" | "context" | "request" | "now" | "visitorId" | "identity">,
  page: LaunchPage,
  who: Viewer,
): Promise<boolean> => {
  const { context, request, now } = room;
  const cause = visitStarts(context.plan, page.key);
  if (!cause || request.passive || request.form || page.kind === "offer" || page.kind === "thanks") return false;
  const { clock } = context.plan;
  if (clock.kind !== "personal" || !mayStart(clock, context.plan.zone, who.starts ?? [], now)) return false;
  return startByVisit(room.em, context, { ...room.identity, visitorId: room.visitorId }, cause, now);
};

/** The clock of who has come to a page that stops it. */
const stopHere = async (room: Room, key: string): Promise<boolean> => {
  const stop = stopsAtPage(room.context.launch.settings, key);
  if (!stop || room.request.passive || room.request.form || room.who.stop) return false;
  await room.em.transactional(async (tx) => {
    const person = (await personIdOf(tx, room.identity)) ?? (await personOf(tx, room.visitorId, room.now));
    await stopClock(tx, (id) => loadLaunch(tx, { id }), room.context.launch.id, person, `page:${key}`, stop.handTo, room.now);
  });
  return true;
};

interface Shown {
  seen: LaunchView;
  address: AddressView;
  key: string;
  now: Date;
  form?: PublicRequest["form"];
  /** What is known of who fills a form in. */
  kept?: Values;
  listed?: string;
  asked?: string;
  /** Where the visitor seems to be, for the words of consent. */
  country?: string;
  /** The version of the page that is shown. */
  arm?: string;
  notice?: Html;
  extras?: Extras;
  order?: OrderFacts;
  bumps?: BumpFacts;
}

/** What may be struck through beside the main product's price: what was asked before, the clock's own prices among it. */
const wasMain = ({ asked, plan, product }: LaunchContext, now: Date): number | undefined =>
  plan.settings.rising === null && product.terms.kind === "once" ? strikable([...asked, ...plan.prices], now) : undefined;

/** What is said where another page answers because no seat is left. */
const soldOutNotice = ({ seen, address, listed, asked }: Shown): Html | undefined =>
  address.soldOut && seen.seats && listed === undefined && asked === undefined
    ? notice(seen.seats.left === 0 ? `${publicWords().price.allTaken(seen.seats.of)}.` : publicWords().price.seatsForList, false)
    : undefined;

/** What the holes of a launch's page are filled from. The public pages and their previews are made from this. */
export const factsOf = (app: Pick<App, "config" | "vendor">, context: LaunchContext, shown: Shown): PageFacts => {
  const { form, kept, key, now } = shown;
  const { locked } = shown.address;
  const locale = usualLocale;
  const compiled = context.compiled[shown.arm ?? key];
  return {
    ...shown,
    // Looked at by itself, as in a preview, a page says nothing of its own lock.
    notice:
      shown.notice ??
      (locked && locked.page.key !== key ? notice(lockedSentence(locked, { plan: context.plan, locale }), false) : soldOutNotice(shown)),
    extras: shown.extras ?? {},
    plan: context.plan,
    origin: app.config.origin,
    vendor: app.vendor.name,
    locale,
    product: context.product,
    was: wasMain(context, now),
    consent: consentWords(app.vendor.name, shown.country),
    form: { block: form?.block, values: { ...kept, ...form?.values }, errors: form?.errors ?? {} },
    words: { title: compiled?.title ?? "", description: compiled?.description ?? "", picture: compiled?.shared },
  };
};

/** Which version of a page this person sees: the one they saw before, else the one their hash says. */
const armOf = async (
  room: Pick<OrderRoom, "app" | "em" | "context" | "request" | "visitorId">,
  key: string,
  arms: NonNullable<LaunchContext["arms"][string]>,
): Promise<(typeof arms)[number]> => {
  const { app, context, request, visitorId } = room;
  const name = `${context.launch.id}/${key}`;
  const known = request.visitorId && armsOf(app).get(`${name}/${request.visitorId}`);
  const kept = known && arms.find(({ variant }) => variant === known);
  if (kept) return kept;
  const before = request.visitorId ? await variantSeen(room.em, context.launch.id, key, request.visitorId) : undefined;
  const seen = arms.find(({ variant }) => variant === before?.variant);
  const variant = assignArm(name, before?.personId ?? visitorId, arms);
  const arm = seen ?? arms.find((one) => one.variant === variant) ?? arms[0]!;
  armsOf(app).set(`${name}/${visitorId}`, arm.variant);
  return arm;
};

/** The checkout of an offer by itself. */
const checkoutOf = ({ launch, pages }: LaunchContext, of: string): string =>
  `/l/${launch.slug}/${pages.find(({ kind }) => kind === "checkout")!.slug}?of=${encodeURIComponent(of)}`;

/** Where an address leads that answers with no page of its own. */
export const leadsTo = (context: LaunchContext, answer: Exclude<AddressView["answer"], { page: LaunchPage }>): string =>
  answer.redirect === "home"
    ? `/l/${context.launch.slug}`
    : answer.redirect === "launch"
      ? `/l/${answer.launch}`
      : answer.redirect === "checkout"
        ? checkoutOf(context, answer.of)
        : answer.address;

/** A page that is alike for a crowd, sent as bytes. */
const sendForAll = (request: PublicRequest, compiled: CompiledPage, facts: PageFacts, answer: Omit<PublicAnswer, "body">): PublicAnswer => {
  const { bytes, etag } = renderForAll(compiled, facts);
  // Nothing on it tells the time or takes an address: the browser may show what it has, once it has asked.
  const headers = etag ? { ...answer.headers, etag, "cache-control": "private, no-cache" } : answer.headers;
  if (etag && request.ifNoneMatch?.split(", ").includes(etag)) return { ...answer, headers, status: 304, body: "" };
  return {
    ...answer,
    headers,
    bytes,
    get body() {
      return bytes.toString();
    },
  };
};

// What a page says to everyone who shares a view and a wording of consent, but for the instant. Goes with the view.
const factsForAll = new WeakMap<LaunchView, Map<string, PageFacts>>();

/**
 * Answers at once where nothing must be asked or waited for: a page of a launch with fixed dates, alike for everyone, at
 * its plain address. Under a crowd this is nearly every answer, and each object made for it counts.
 */
const answerAlike = (app: App, context: LaunchContext, request: PublicRequest): PublicAnswer | undefined => {
  const { plan } = context;
  if (isPersonal(plan) || request.query.size > 0 || request.form || request.tryLink || request.firstVisit || request.emailClick) return undefined;
  const counters = countersAtHand(app, context);
  if (!counters || availability(plan, counters) === "list_only") return undefined;
  const now = app.clock.now();
  const seen = viewOfAll(plan, now, counters);
  const address = addressOf(seen, request.path);
  // What is said of a locked page hangs on the very day.
  if (!address || address.locked || !("page" in address.answer) || asksWho(address.owner.kind) || asksWho(address.answer.page.kind)) return undefined;
  const { page } = address.answer;
  const arms = context.arms[page.key];
  const variant = arms && armsOf(app).get(`${context.launch.id}/${page.key}/${request.visitorId}`);
  const arm = arms?.find((one) => one.variant === variant);
  const compiled = context.compiled[arm?.key ?? page.key];
  if ((arms && !arm) || !page.published || !compiled || asksMore(compiled)) return undefined;
  const country = guessCountry(request.acceptLanguage);
  const visitorId = request.visitorId ?? randomUUID();
  const cookies = logView(app, context, request, { page, visitorId, variant: arm?.variant, now });
  let kept = factsForAll.get(seen);
  if (!kept) factsForAll.set(seen, (kept = new Map<string, PageFacts>()));
  const name = `${request.path} ${arm?.key} ${consentWords("", country)}`;
  let facts = kept.get(name);
  if (!facts) kept.set(name, (facts = factsOf(app, context, { seen, address, key: page.key, now, country, arm: arm?.key })));
  return sendForAll(request, compiled, { ...facts, now }, { status: 200, headers: publicHeaders(app, compiled.styleHash), cookies });
};

const answerOne = async (app: App, request: PublicRequest): Promise<PublicAnswer> => {
  const trying = await tryingOut(app, request.slug, request.query.get("try") ?? request.tryLink);
  if (request.query.has("try")) {
    // The link is kept in this browser for this launch; an empty one ends it.
    const path = `/l/${request.slug}`;
    const secure = app.config.origin.startsWith("https:") ? "; Secure" : "";
    const kept = `${tryCookie}=${trying ? request.query.get("try") : ""}; Path=${path}; HttpOnly; SameSite=Lax; Max-Age=${trying ? 86_400 : 0}${secure}`;
    return { ...redirect(app, `${path}${request.path ? `/${request.path}` : ""}`), cookies: [kept] };
  }
  if (trying) return answerTrying(app, request, trying);
  const counted = request.firstVisit && !request.form && !request.passive && (await countFirstVisit(app, request));
  const answer = await answerFor(app, request, await launchesOf(app).bySlug(request.slug));
  const arrived = request.emailClick !== undefined && !request.passive && answer.status === 200;
  if (arrived) await clickSeen(app, request.emailClick!);
  const over = [...(counted ? [firstVisitHeader(app)] : []), ...(arrived ? [cookie(app, clickCookie, "")] : [])];
  return over.length > 0 ? { ...answer, cookies: [...(answer.cookies ?? []), ...over] } : answer;
};

/** A launch tried out answers every address with its own page, draft or not, and says what it is at the top. */
const answerTrying = async (app: App, request: PublicRequest, trying: Trying): Promise<PublicAnswer> => {
  const answer = await answerFor(app, request, trying.context, trying);
  const strip = html`<aside class="trying" aria-label="Test mode"><strong>Test mode.</strong> You see drafts; test cards alone work, nothing here counts, and no figure of the launch changes. <a href="/l/${request.slug}?try=">Leave it</a></aside>`;
  return { ...answer, body: answer.body.replace("<body>", `<body>${strip.text}`), bytes: undefined, cookies: [] };
};

/** What is said where there is no such page, or none any more. */
export const nothingHere = (app: App): PublicAnswer => messagePage(app, 404, publicWords().pages.nothing, publicWords().pages.perhapsALetter);

const answerFor = async (app: App, request: PublicRequest, context: LaunchContext | undefined, trying?: Trying): Promise<PublicAnswer> => {
  const asked = context?.plan.pages.find(({ slug }) => slug === request.path);
  const moved = context?.moved[request.path];
  if (context && !asked && moved !== undefined) {
    const rest = request.query.size > 0 ? `?${request.query}` : "";
    return { ...redirect(app, `/l/${request.slug}${moved ? `/${moved}` : ""}${rest}`), status: 301 };
  }
  if (!context || !asked) return nothingHere(app);
  const now = app.clock.now();
  const visitorId = trying?.visitorId ?? request.visitorId ?? randomUUID();
  const here = `/l/${request.slug}${request.path ? `/${request.path}` : ""}`;
  const test = trying !== undefined;
  const known = test ? visitorId : request.visitorId;
  const start = { app, context, request, visitorId, now, test, identity: { visitorId: known } as Identity, em: app.fork() };
  const { query } = request;
  if (!trying && (query.has("p") || query.has("k") || query.has("coupon") || (asked.kind === "checkout" && query.has("r")))) {
    const click = clickOf(query, asked.key);
    if (click && request.visitorId) await recordTouch(start.em, context.launch.id, click, visitorId, now);
    const code = query.get("coupon");
    if (code !== null) {
      const taken = await keepCode(start.em, context, code, visitorId, now);
      if (request.visitorId && !request.passive) logTry(app, context, visitorId, code, taken);
    }
    if (asked.kind === "checkout" && query.has("r")) {
      const id = readLink(app.config.INKBELL_SECRET, "restore_checkout", query.get("r"), now);
      if (id) await restoreCheckout(start.em, context, id, visitorId, now);
    }
    const link = query.get("k");
    const known = link && readLink(app.config.INKBELL_SECRET, "person", link, now);
    const rest = new URLSearchParams(query);
    for (const taken of ["p", "k", "r", "coupon", "sub1", "sub2", "sub3", "sub4", "sub5"]) rest.delete(taken);
    const onward = redirect(app, `${here}${rest.size > 0 ? `?${rest}` : ""}`, visitorId, known ? link : undefined);
    // A program that follows every link keeps no cookie: the click counts when the browser arrives with it.
    const pending = click && !request.visitorId ? [firstVisitHeader(app, { launch: context.launch.id, click })] : [];
    return { ...onward, cookies: [...(onward.cookies ?? []), ...pending] };
  }

  const counters = countersAtHand(app, context) ?? (await countersFor(app).of(context));
  const seatsOpen = availability(context.plan, counters);
  if (isPersonal(context.plan) || seatsOpen === "list_only") start.identity = identify(app, request, now);
  // Most pages of a launch with fixed dates need no facts about who looks.
  const alike = !isPersonal(context.plan) && !asksWho(asked.kind) && !test && seatsOpen !== "list_only";
  let who: Viewer = alike ? {} : await lookUp(start, asked, seatsOpen);
  if (!alike && !test && (await arrive(start, asked, who))) {
    who = await lookUp({ ...start, identity: { ...start.identity, visitorId } }, asked, seatsOpen);
  }
  const seen = alike ? viewOfAll(context.plan, now, counters) : view(context.plan, who, now, counters);
  const gated = addressOf(seen, request.path)!;
  // Tried out, a page answers its own address whatever the clock says; behind an order it still asks for one.
  const open = test && !(behindAnOrder(asked.kind) && !who.orderedAt);
  const address = open ? { ...gated, answer: { page: gated.owner }, price: priceAt(context.plan, now, counters), locked: undefined } : gated;
  if ("redirect" in address.answer) return redirect(app, leadsTo(context, address.answer));
  const { page } = address.answer;
  const arms = context.arms[page.key];
  const shown = arms && request.visitorId && armsOf(app).get(`${context.launch.id}/${page.key}/${request.visitorId}`);
  const arm = arms && (arms.find(({ variant }) => variant === shown) ?? (await armOf(start, page.key, arms)));
  const compiled = context.compiled[arm?.key ?? page.key];
  if (!page.published || !compiled) {
    return messagePage(app, 404, publicWords().pages.notPublic, publicWords().pages.notPublished);
  }
  const room: Room = { ...start, who, seen, address, page };
  if (!alike && !test && (await stopHere(room, page.key))) {
    const stopped = view(context.plan, { ...who, stop: { at: now } }, now, counters);
    Object.assign(room, { seen: stopped, address: addressOf(stopped, request.path)! });
  }
  // Behind an address that a gate answers with another page, that page's own rules hold.
  const finder = orderFinders[page.kind];
  const found = finder ? await finder(room) : {};
  if ("go" in found) return redirect(app, found.go, visitorId);
  const cookies = test ? [] : logView(app, context, request, { page, visitorId, variant: arm?.variant, now });
  if (found.offered && !test && request.visitorId && !request.passive && !request.form) {
    const { personId, ...data } = found.offered;
    app.events.add({ launchId: context.launch.id, visitorId, personId, kind: "offered", at: now, page: page.key, data });
  }
  const message =
    found.notice ?? (request.form?.message ? notice(request.form.message) : query.has("spoilt") ? notice(publicWords().forms.spoilt) : undefined);
  const extras = asksMore(compiled)
    ? await extrasOf(start.em, {
        context,
        now,
        page: { key: page.key, compiled },
        identity: identify(app, request, now),
        launch: (slug) => launchesOf(app).bySlug(slug),
      })
    : {};
  const facts = factsOf(app, context, {
    ...found,
    seen: room.seen,
    address: room.address,
    key: page.key,
    now,
    form: request.form,
    listed: query.get("listed") ?? undefined,
    asked: query.get("asked") ?? undefined,
    country: guessCountry(request.acceptLanguage),
    arm: arm?.key,
    notice: message,
    extras: { ...extras, said: query.get("said") ?? undefined, orderLink: query.get("o") ?? undefined, tracking: trackingOf(query) || undefined },
  });
  const headers = { ...publicHeaders(app, compiled.styleHash), ...(asksWho(asked.kind) ? { "x-robots-tag": "noindex" } : {}) };
  const status = request.form?.status ?? 200;
  if (!alike) return { status, body: renderPage(compiled, facts), headers, cookies };
  return sendForAll(request, compiled, facts, { status, headers, cookies });
};

/**
 * Answers a public address for a visitor at this instant, at once where what it takes is at hand: under a crowd each
 * wait costs more than the page. A partner's code (`?p=`), a person's link (`?k=`) and a restoring link (`?r=`) are
 * taken in first, and leave the address.
 */
export const answerPage = (app: App, request: PublicRequest): PublicAnswer | Promise<PublicAnswer> => {
  const context = launchesOf(app).atHand(request.slug);
  return (context && answerAlike(app, context, request)) ?? answerOne(app, request);
};
