import { viewerOfKind, view, type AddressView, type LaunchView, type Viewer, type SeenAs } from "../../core/launch";
import { fillSome, pageLeaves, titleOf, withoutVariant, type CompiledPage } from "../../core/pages";
import type { OrderFacts, PageFacts } from "../../public/facts";
import { html } from "../../public/html";
import { Page, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, sha256 } from "../platform";
import { type LaunchContext, loadLaunch, viewerOfContact } from "../launch";
import { countersOf, quote } from "../offers";
import { factsOf, leadsTo } from "./answer";
import { compileFor } from "../pages";
import { extrasOf } from "./extras";
import { randomUUID } from "node:crypto";
import { bumpFacts } from "./order/orderFacts";
import { boughtOf } from "./order/orderSums";
import { renderPage } from "./render";

/** An order as it might be, where a page shows one and nobody has ordered. */
const sampleOrder = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  page: Pick<Page, "id" | "kind">,
  at: Date,
): Promise<OrderFacts | undefined> => {
  const { product } = context;
  const { country } = app.vendor;
  if (page.kind === "checkout")
    return { step: "start", action: "#", bought: await boughtOf(em, context, { id: "", personId: randomUUID(), bumps: [], country }, at) };
  if (page.kind === "offer") {
    const offered = context.steps.find((other) => other.pageId === page.id)?.product;
    // Without a product there is no price to show.
    if (!offered) return undefined;
    const amount = await quote(em, offered, { country }, at);
    return {
      step: "offer",
      captureLater: false,
      action: "#",
      order: "",
      stepId: "",
      amount,
      currency: offered.currency,
      productName: offered.name,
      country,
      last4: "0003",
      cardFieldUrl: "",
    };
  }
  if (page.kind !== "thanks") return undefined;
  const { gross, tax } = await quote(em, product, { country }, at);
  return {
    step: "receipt",
    authorized: 0,
    number: "1000",
    lines: [{ name: product.name, gross, tax }],
    currency: product.currency,
    country,
    email: "buyer@example.org",
    recurring: [],
    action: "#",
    order: "",
  };
};

/** What the blocks of a page ask of people and of other launches, for who looks. */
const extrasFor = (em: EntityManager, context: LaunchContext, page: Page, compiled: CompiledPage, as: SeenAs, at: Date) =>
  extrasOf(em, {
    context,
    now: at,
    page: { key: withoutVariant(page.key), compiled },
    identity: as.kind === "person" ? { contactId: as.id } : {},
    launch: (slug) => loadLaunch(em, { slug }),
  });

/** What the editor alone shows, so that its blocks can be seen: bumps before a checkout is begun, and a partner who sent nobody. */
const madeUp = async (em: EntityManager, context: LaunchContext, page: Page, at: Date) => {
  const added = pageLeaves(page.draft).flatMap((leaf) => (leaf.type === "bump" && leaf.product ? [leaf.product] : []));
  const products = added.length > 0 ? await em.find(Product, { id: { $in: added } }) : [];
  return {
    bumps: page.kind === "checkout" ? await bumpFacts(em, context, { id: "", country: "PT", bumps: [] }, at, products) : undefined,
    partner: { name: "a partner", note: "Here stands what the partner says who sent the reader. Others see nothing here." },
  };
};

/** The preview is inert: it runs no script, shows nothing that is meant for browsers without, and leads nowhere. */
const inert = (page: string): string =>
  page
    .replace(/<(script|noscript)\b[\s\S]*?<\/\1\s*>/g, "")
    .replace(/ action="[^"]*"/g, ' action="#"')
    .replace(/(<a\b[^>]*?) href="[^"]*"/g, '$1 href="#"');

const note = (headline: string, text: string): string =>
  html`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${headline}</title></head><body style="font-family:Archivo,system-ui,sans-serif;padding:48px;color:#141B26;background:#E9ECE4"><h1 style="font-size:40px">${headline}</h1><p style="font-size:26px">${text}</p></body></html>`
    .text;

/** Reads everything in a transaction that the database lets write nothing. */
const readOnly = <T>(em: EntityManager, read: (em: EntityManager) => Promise<T>): Promise<T> => em.transactional(read, { readOnly: true });

const lookAs = async (em: EntityManager, context: LaunchContext, as: SeenAs, at: Date): Promise<Viewer> =>
  as.kind === "person" ? ((await viewerOfContact(em, context, as.id)) ?? {}) : viewerOfKind(as, context.plan, at);

/** What is seen at a page's address; a version of a page stands at that page's. */
const addressOf = (seen: LaunchView, { slug }: Pick<Page, "slug">): AddressView =>
  seen.addresses.find((other) => other.slug === withoutVariant(slug))!;

export interface Preview {
  body: string;
  /** SHA-256 of its style, for its policy. */
  styleHash?: string;
}

const previewOf = async (
  app: App,
  em: EntityManager,
  context: LaunchContext,
  page: Page,
  compiled: CompiledPage,
  seen: LaunchView,
  address: AddressView,
  as: SeenAs,
  at: Date,
): Promise<Preview> => {
  const order = await sampleOrder(app, em, context, page, at);
  const extras = await extrasFor(em, context, page, compiled, as, at);
  const unlinked = fillSome(compiled, (hole) => (hole.kind === "href" ? ' href="#"' : undefined));
  const body = inert(
    renderPage(unlinked, factsOf(app, context, { seen, address, key: withoutVariant(page.key), arm: page.key, now: at, order, extras })),
  );
  // The public's first paint does not wait for its types; a small picture of it does.
  const patient = body.replaceAll("font-display:optional", "font-display:swap");
  return { body: patient, styleHash: sha256(/<style>(.*?)<\/style>/s.exec(patient)?.[1] ?? "") };
};

/**
 * A public address as a person would see it at an instant, past or future, from the very function that answers the
 * public. Writes nothing, starts no clock, sends nothing.
 */
export const previewAddress = async (app: App, fork: EntityManager, slug: string, path: string, as: SeenAs, at: Date): Promise<Preview | undefined> =>
  readOnly(fork, async (em) => {
    const context = await loadLaunch(em, { slug });
    if (!context) return undefined;
    const seen = view(context.plan, await lookAs(em, context, as, at), at, await countersOf(em, context));
    const address = seen.addresses.find((other) => other.slug === path);
    if (!address) return undefined;
    const { answer } = address;
    if ("redirect" in answer) return { body: note("Goes on", `This address leads to ${leadsTo(context, answer)}.`) };
    const page = context.pages.find(({ key }) => key === answer.page.key)!;
    const compiled = context.compiled[page.key];
    if (!page.published || !compiled) return { body: note("Not open to the public yet", "This page is not published.") };
    return previewOf(app, em, context, page, compiled, seen, address, as, at);
  });

/** A page's draft as its visitors would see it at an instant, whatever its gate says. Writes nothing. */
export const previewDraft = async (app: App, fork: EntityManager, pageId: string, as: SeenAs, at: Date): Promise<Preview | undefined> =>
  readOnly(fork, async (em) => {
    const page = await em.findOne(Page, { id: pageId });
    const context = page && (await loadLaunch(em, { id: page.launchId }));
    if (!context) return undefined;
    const seen = view(context.plan, await lookAs(em, context, as, at), at, await countersOf(em, context));
    const address = addressOf(seen, page);
    const compiled = await compileFor(em, context.launch, page, page.draft, app.vendor.name);
    return previewOf(app, em, context, page, compiled, seen, address, as, at);
  });

/** What the editor's proof is filled from: the same facts as a preview's, sent to the desk. */
export const proofFacts = async (app: App, em: EntityManager, context: LaunchContext, page: Page, as: SeenAs, at: Date): Promise<PageFacts> => {
  const seen = view(context.plan, await lookAs(em, context, as, at), at, await countersOf(em, context));
  const address = addressOf(seen, page);
  const { name, description, taxMode, refundDays, terms } = context.product;
  const compiled = await compileFor(em, context.launch, page, page.draft, app.vendor.name);
  const { bumps, partner } = await madeUp(em, context, page, at);
  const extras = { ...(await extrasFor(em, context, page, compiled, as, at)), partner };
  const order = await sampleOrder(app, em, context, page, at);
  const facts = factsOf(app, context, { seen, address, key: withoutVariant(page.key), now: at, order, extras, bumps });
  return {
    ...facts,
    product: { name, description, taxMode, refundDays, terms },
    words: { title: titleOf(page.draft), description: page.draft.description },
  };
};

/** A preview as an answer: never kept, never found by a search, without script, forms or a way out. */
export const previewResponse = (preview: Preview | undefined): Response =>
  preview === undefined
    ? new Response("There is no such page.", { status: 404 })
    : new Response(preview.body, {
        headers: {
          "content-type": "text/html; charset=utf-8",
          "cache-control": "private, no-store",
          "x-robots-tag": "noindex",
          "content-security-policy": `sandbox; default-src 'none'; style-src ${preview.styleHash ? `'sha256-${preview.styleHash}'` : "'none'"}; style-src-attr 'unsafe-inline'; font-src 'self'; img-src 'self'; media-src 'self'; frame-ancestors 'self'; form-action 'none'`,
        },
      });
