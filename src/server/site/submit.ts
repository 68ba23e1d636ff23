import { fault } from "../../core/words";
import { identify, type LaunchContext, launchesOf } from "../launch";
import { z } from "zod";
import { bumpTick, checkoutChoice, checkoutPay, checkoutStart, couponEntry, storedCard } from "../../core/offers";
import { addressOf, formsOf, hrefOf, tracked, withoutVariant, type BlockOf } from "../../core/pages";
import { consentWords, guessPlace, optInRequest } from "../../core/people";
import type { Charge } from "../../store/tables";
import { RecurringPayment, Checkout, Order, Product, type Page } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import {
  type App,
  cookie,
  guessCountry,
  linkCookie,
  onceMoreAfterDeadlock,
  type PublicAnswer,
  readLink,
  Refusal,
  shownRefusal,
  required,
} from "../platform";
import {
  addToOrder,
  applyCoupon,
  chooseAtCheckout,
  decideOffer,
  namedAlone,
  nextAddress,
  orderHref,
  payCheckout,
  placeOnPath,
  startCheckout,
  tickBump,
} from "../checkout";
import { endRecurringPayment, refreshCharge } from "../payments";
import { applyAsPartner, partnerCodeFor } from "../partners";
import { buyerOf } from "../delivery";
import { confirmOptIn, optIn, type OptInOutcome } from "../people";
import { answerPage } from "./answer";
import { tryingOut } from "./tryOut";
import { writeComment, writtenTo } from "./run";

export interface FormPost {
  slug: string;
  action: string;
  values: Record<string, string>;
  visitorId: string;
  /** The person's link that this browser holds. */
  keptLink?: string;
  /** The contact that link names; found out here. */
  contactId?: string;
  acceptLanguage?: string;
  from: string;
  /** Whether the browser has sent the cookie that it was given. */
  known?: boolean;
  /** The link by which somebody of the desk tries the launch out. */
  tryLink?: string;
  /** The session of a buyer who is signed in to their library, and who that is; found out here. */
  buyerToken?: string;
  buyerId?: string;
  /** Whether this visitor only tries things out; found out here. */
  test?: boolean;
}

const decide = z.object({
  o: z.string(),
  step: z.uuid(),
  decision: z.enum(["yes", "no"]),
  sure: z.literal("yes").optional(),
  /** Another card than the stored one, which was refused or is not there. */
  cardToken: z
    .string()
    .regex(/^tok_[A-Za-z0-9]{10,64}$/, fault("card_missing"))
    .optional(),
});

const onward = (app: App, em: EntityManager, context: LaunchContext, order: Order): Promise<string> => orderHref(app, em, context, order, 60);

/** Where the browser goes on after a charge, as it now stands. */
export const afterCharge = async (app: App, em: EntityManager, context: LaunchContext, charge: Charge): Promise<string> => {
  if (charge.state === "challenge" && charge.challengeUrl) return charge.challengeUrl;
  const order = await em.findOne(Order, { checkoutId: charge.checkoutId });
  return order ? onward(app, em, context, order) : backToCheckout(em, context, charge.checkoutId);
};

/** The browser is back from a challenge of its bank: only the processor's word counts, not that it came back. */
export const returnFromChallenge = async (app: App, slug: string, token: string | null): Promise<string> => {
  const context = await launchesOf(app).bySlug(slug);
  // Signed, and not bound to the browser that began the checkout: a buyer may accept an offer by their link in another.
  const id = readLink(app.config.INKBELL_SECRET, "charge", token, app.clock.now());
  return context && id ? afterCharge(app, app.fork(), context, await refreshCharge(app, id)) : `/l/${slug}`;
};

/** The page whose opt-in form was sent, and the form; one that is not named counts as the first there is. */
const formOf = (context: LaunchContext, key: string | undefined, block: string | undefined): { page: Page; form: BlockOf<"form"> } => {
  const rows = [...context.pages, ...context.variants.map((one) => ({ ...one, key: withoutVariant(one.key), slug: withoutVariant(one.slug) }))];
  const all = rows.flatMap((page) => (page.published ? formsOf(page.published).map((form) => ({ page, form })) : []));
  return required(all.find(({ page, form }) => page.key === key && form.id === block) ?? all.find(({ page }) => page.key === key) ?? all[0], "form");
};

/** Where the browser goes on after an opt-in. */
const afterOptIn = async (
  app: App,
  context: LaunchContext,
  { page, form }: { page: Page; form: BlockOf<"form"> },
  outcome: OptInOutcome,
  visitorId: string,
  values: Record<string, string> = {},
): Promise<string> => {
  const { launch, source } = context;
  const named = (key: string) => (key ? hrefOf(source, page.key, { to: "page", page: key }) : undefined);
  const onward = outcome === "asked" ? named(form.checkPage) : form.then ? hrefOf(source, page.key, form.then) : undefined;
  if (onward && outcome === "listed" && form.then?.to === "outside" && form.then.keep)
    return tracked(form.then.url, values["tracking"] ?? "", await partnerCodeFor(app.fork(), context, visitorId, app.clock.now()));
  if (onward) return onward;
  return `${addressOf(launch.slug, page)}?${back({ [outcome]: form.id }, values)}${form.over ? `#over-${form.id}` : ""}`;
};

/** Takes the link of a confirming email, and answers where the browser goes on. */
export const confirmAddress = async (app: App, slug: string, token: string | null, visitorId: string): Promise<string> => {
  const context = await launchesOf(app).bySlug(slug);
  const id = readLink(app.config.INKBELL_SECRET, "opt_in", token, app.clock.now());
  const given = context && id ? await confirmOptIn(app.fork(), context, id, visitorId, app.clock.now()) : undefined;
  if (!context || !given) return `/l/${slug}?spoilt=1`;
  const { page, form } = formOf(context, given.page, given.form);
  return (
    (form.confirmedPage && hrefOf(context.source, page.key, { to: "page", page: form.confirmedPage })) ||
    afterOptIn(app, context, { page, form }, "listed", visitorId)
  );
};

/** What the address of a page says after a form of it was taken: which one, and the order behind the page. */
const back = (what: Record<string, string>, { o }: Record<string, string>): string =>
  new URLSearchParams({ ...what, ...(o ? { o } : {}) }).toString();
const said = (block: string, values: Record<string, string>): string => back({ said: block }, values);

/** The address of a checkout: of the launch's main product, or of what is bought by itself. */
const backToCheckout = async (em: EntityManager, context: LaunchContext, id?: string, named?: string): Promise<string> => {
  const checkout = id ? await em.findOne(Checkout, { id, launchId: context.launch.id }) : null;
  const of = named ?? checkout?.productId;
  return `/l/${context.launch.slug}/${pageSlug(context, "checkout")}${of ? `?of=${encodeURIComponent(of)}` : ""}`;
};

const pageSlug = (context: LaunchContext, wanted: string): string => context.pages.find(({ kind }) => kind === wanted)?.slug ?? "";

/** Who sent a form that begins a checkout, and where they are as far as their browser says so. */
const buyerPost = (post: FormPost) => ({ ...post, place: guessPlace(post.values["zone"], post.acceptLanguage) });

const handlers: Record<
  string,
  {
    page: "optin" | "checkout" | "offer" | "comments" | "invitation" | "addition";
    /** It says who is there. */ names?: true;
    run: (app: App, em: EntityManager, context: LaunchContext, post: FormPost) => Promise<string>;
  }
> = {
  "opt-in": {
    page: "optin",
    names: true,
    async run(app, em, context, post) {
      const { visitorId, from, known, acceptLanguage } = post;
      const { page, form } = formOf(context, post.values["page"], post.values["block"]);
      const country = guessCountry(acceptLanguage);
      const outcome = await optIn(em, context, optInRequest(form.fields).parse(post.values), {
        visitorId,
        from,
        known,
        now: app.clock.now(),
        country,
        page: page.key,
        form,
        consent: form.consent || consentWords(app.vendor.name, country),
        shownAt: post.values["shownAt"],
        place: guessPlace(post.values["zone"], acceptLanguage),
      });
      return afterOptIn(app, context, { page, form }, outcome, visitorId, post.values);
    },
  },
  comment: {
    page: "comments",
    async run(app, em, context, { values, visitorId, from, known }) {
      const { page, block } = await writeComment(em, context, { values, visitorId, from, known, now: app.clock.now() });
      return `${addressOf(context.launch.slug, page)}?${said(block.id, values)}#talk-${block.id}`;
    },
  },
  partner: {
    page: "invitation",
    async run(app, em, context, { values, visitorId, from, known }) {
      const { page, block } = writtenTo(context, "invitation", values);
      await applyAsPartner(em, context, { values, visitorId, from, known, now: app.clock.now() });
      return `${addressOf(context.launch.slug, page)}?${said(block.id, values)}#talk-${block.id}`;
    },
  },
  start: {
    page: "checkout",
    names: true,
    async run(app, em, context, post) {
      const { of } = post.values;
      const alone = namedAlone(context, of);
      await startCheckout(app, em, context, checkoutStart.parse(post.values), buyerPost(post), alone);
      return backToCheckout(em, context, undefined, alone ? of : undefined);
    },
  },
  buy: {
    page: "checkout",
    names: true,
    // All on one page: whoever is wrong in one field has begun nothing.
    async run(app, em, context, post) {
      const start = checkoutStart.parse(post.values);
      checkoutPay.omit({ checkout: true }).parse(payValues(post.values));
      const { id } = await startCheckout(app, em, context, start, buyerPost(post), namedAlone(context, post.values["of"]));
      return afterCharge(app, em, context, await payCheckout(app, em, context, checkoutPay.parse({ ...payValues(post.values), checkout: id }), post));
    },
  },
  add: {
    page: "addition",
    async run(app, em, context, post) {
      const { answer, product, page: key } = addition.parse(post.values);
      const to = answer === "yes" ? ({ to: "checkout", over: false } as const) : ({ to: "next" } as const);
      if (answer === "yes" && !(await addToOrder(app, em, context, product, post))) return backToCheckout(em, context, undefined, product);
      return hrefOf(context.source, key, to) ?? `/l/${context.launch.slug}/${pageSlug(context, "checkout")}`;
    },
  },
  end: {
    page: "offer",
    async run(app, em, context, post) {
      const { o, recurringPayment } = z.object({ o: z.string(), recurringPayment: z.uuid() }).parse(post.values);
      const id = readLink(app.config.INKBELL_SECRET, "order", o, app.clock.now());
      const order = id ? await em.findOne(Order, { id, launchId: context.launch.id }) : null;
      const ended = order && (await em.findOne(RecurringPayment, { id: recurringPayment, orderId: order.id }));
      if (!ended) throw new Refusal({ code: "link_over", to: "order" });
      const product = await em.findOneOrFail(Product, { id: ended.productId });
      if (product.terms.kind !== "subscription") throw new Refusal({ code: "owed" });
      await endRecurringPayment(em, ended.id, "by_buyer", app.clock.now());
      return onward(app, em, context, order);
    },
  },
  choose: {
    page: "checkout",
    async run(app, em, context, post) {
      await chooseAtCheckout(app, em, context, checkoutChoice.parse(post.values), post);
      return backToCheckout(em, context, knownId(post.values["checkout"]));
    },
  },
  bump: {
    page: "checkout",
    async run(app, em, context, post) {
      await tickBump(app, em, context, bumpTick.parse(post.values), post);
      return backToCheckout(em, context, knownId(post.values["checkout"]));
    },
  },
  coupon: {
    page: "checkout",
    async run(app, em, context, post) {
      await applyCoupon(app, em, context, couponEntry.parse(post.values), post);
      return backToCheckout(em, context, knownId(post.values["checkout"]));
    },
  },
  pay: {
    page: "checkout",
    async run(app, em, context, post) {
      return afterCharge(app, em, context, await payCheckout(app, em, context, checkoutPay.parse(payValues(post.values)), post));
    },
  },
  decide: {
    page: "offer",
    async run(app, em, context, post) {
      const { o, step, decision, sure, cardToken } = decide.parse(post.values);
      const id = readLink(app.config.INKBELL_SECRET, "order", o, app.clock.now());
      if (!id) throw new Refusal({ code: "link_over", to: "order" });
      const order = await em.findOneOrFail(Order, { id });
      const { step: here, address } = await placeOnPath(em, context, order);
      // Asked for, “sure?” stands between the press and the charge, with script or without.
      if (here?.id === step && here.sure && decision === "yes" && !sure)
        return `/l/${context.launch.slug}/${address}?${new URLSearchParams({ o, sure: "1" })}`;
      try {
        const charge = await decideOffer(app, em, context, id, step, decision, { visitorId: post.visitorId, buyerId: post.buyerId, cardToken });
        if (charge?.state === "challenge" && charge.challengeUrl) return charge.challengeUrl;
        return await onward(app, em, context, order);
      } catch (error) {
        // The last one went to somebody else at this very moment: the path goes on without it, and says so.
        if (error instanceof Refusal && error.code === "seats_taken") return `${await onward(app, app.fork(), context, order)}&gone=1`;
        throw error;
      }
    },
  },
};

/** What was sent with a press that pays: the stored card is named by its own button. */
const payValues = (values: Record<string, string>): Record<string, string> => (values["stored"] ? { ...values, cardToken: storedCard } : values);

const addition = z.object({ product: z.uuid(), page: z.string().max(80), answer: z.enum(["yes", "no"]) });

/** The page and the block whose form was sent, where that may be any page. */
const blockOf = (page: (typeof handlers)[string]["page"], context: LaunchContext, values: Record<string, string>) => {
  if (page === "addition") return undefined;
  if (page === "comments" || page === "invitation") return writtenTo(context, page, values);
  if (page !== "optin") return undefined;
  const { page: at, form } = formOf(context, values["page"], values["block"]);
  return { page: at, block: form };
};

/** What a form says of its checkout, where it is an id at all. */
const knownId = (text: string | undefined): string | undefined => (z.uuid().safeParse(text).success ? text : undefined);

/** The address at which an order stands, by the link its form carries. */
const offerAddress = async (app: App, context: LaunchContext, { o }: Record<string, string>): Promise<string | undefined> => {
  const id = readLink(app.config.INKBELL_SECRET, "order", o, app.clock.now());
  const order = id ? await app.fork().findOne(Order, { id, launchId: context.launch.id }) : null;
  return order ? nextAddress(app.fork(), context, order) : undefined;
};

/** Takes a form of a public page. What is wrong comes back on the same page with all that was typed. */
export const submitForm = async (app: App, post: FormPost): Promise<PublicAnswer> => {
  const trying = await tryingOut(app, post.slug, post.tryLink);
  const context = trying?.context ?? (await launchesOf(app).bySlug(post.slug));
  // Inherited names (`constructor`) are no actions.
  const handler = Object.hasOwn(handlers, post.action) ? handlers[post.action] : undefined;
  if (trying) Object.assign(post, { visitorId: trying.visitorId, test: true });
  if (!context || !handler) return answerPage(app, { slug: post.slug, path: "?", query: new URLSearchParams() });
  try {
    const buyer = post.buyerToken ? await buyerOf(app.fork(), post.buyerToken, app.clock.now()) : undefined;
    const { contactId } = identify(app, { keptLink: post.keptLink }, app.clock.now());
    const location = await onceMoreAfterDeadlock(() => handler.run(app, app.fork(), context, { ...post, contactId, buyerId: buyer?.id }));
    // Whoever gives an address is that person from now on, whosever link they came by.
    const cookies = handler.names ? [cookie(app, linkCookie, "")] : [];
    return { status: 303, body: "", headers: { location, "cache-control": "no-store" }, cookies };
  } catch (error) {
    const form = blockOf(handler.page, context, post.values);
    const shown = handler.page === "addition" ? context.pages.find(({ key }) => key === post.values["page"])?.slug : undefined;
    // An offer is shown again for its order, with what was wrong said on it.
    const offered = handler.page === "offer" ? await offerAddress(app, context, post.values) : undefined;
    const checkoutOf =
      handler.page === "checkout" ? await backToCheckout(app.fork(), context, knownId(post.values["checkout"]), post.values["of"]) : undefined;
    const path = form ? form.page.slug : handler.page === "offer" ? (offered ?? "") : (shown ?? pageSlug(context, handler.page));
    const again = (wrong: { errors: Record<string, string>; message?: string; status: number }) =>
      answerPage(app, {
        slug: post.slug,
        path,
        query: new URLSearchParams(form || offered !== undefined ? back({}, post.values) : (checkoutOf?.split("?")[1] ?? "")),
        visitorId: trying ? undefined : post.visitorId,
        tryLink: post.tryLink,
        keptLink: post.keptLink,
        buyerToken: post.buyerToken,
        acceptLanguage: post.acceptLanguage,
        form: { values: post.values, ...(form ? { block: form.block.id } : {}), ...wrong },
      });
    const { status, text, fields } = shownRefusal(error);
    return again({ status, errors: fields, ...(error instanceof z.ZodError ? {} : { message: text }) });
  }
};
