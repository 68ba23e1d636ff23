import { createHash } from "node:crypto";
import { onlookerOfKind, view, type AddressView, type LaunchView, type Onlooker, type SeenAs } from "../../core/launch";
import type { CompiledPage } from "../../core/pages";
import { broadsideCss } from "../../public/broadside";
import { compilePage } from "../../public/compile";
import { checkoutStartForm, goOn, offerForms, optInForm, priceBox, receipt } from "../../public/forms";
import { html, type Html } from "../../public/html";
import { Page } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "../app/app";
import { loadBundle, type LaunchBundle } from "../launch/bundle";
import { onlookerOfContact } from "../launch/persons";
import { countersOf, quote } from "../offers/quote";
import { consentSentence } from "../people/optIn";
import { leadsTo, renderPage } from "./answer";

/** What stands in the holes of a page that nobody really asked for: forms that lead nowhere, and sample data where an order would stand. */
const sample = async (
  app: App,
  em: EntityManager,
  bundle: LaunchBundle,
  page: Page,
  button: string,
  seen: LaunchView,
  address: AddressView,
  at: Date,
): Promise<{ price?: Html; form?: Html }> => {
  const { product, plan } = bundle;
  switch (page.kind) {
    case "sales":
      return { price: priceBox(address.price ?? plan.price, seen.seats, product.taxMode, button, "#", product.refundDays, plan.zone) };
    case "checkout":
      return { form: checkoutStartForm("#", {}, {}) };
    case "content":
      return { form: goOn("#", button) };
    case "offer": {
      const offered = bundle.steps.find((other) => other.pageId === page.id)?.product;
      // Without a product there is no price to show.
      if (!offered) return {};
      const amount = await quote(em, offered, "PT", at);
      const rest = { amount, currency: offered.currency, productName: offered.name, last4: "0003" };
      return { form: offerForms({ action: "#", order: "", step: "", yes: button, ...rest }) };
    }
    case "thanks": {
      const amount = await quote(em, product, "PT", at);
      const lines = [{ name: product.name, gross: amount.gross, tax: amount.tax }];
      return { form: receipt({ number: 1000, lines, currency: product.currency, email: "buyer@example.org", again: { href: "#", label: button } }) };
    }
    case "optin":
    case "closed":
      return { form: optInForm("#", page.key, button, consentSentence(app.config.INKBELL_VENDOR), {}, {}) };
  }
};

/** The preview is inert: it runs no script, and shows nothing that is meant for browsers without. */
const inert = (page: string): string => page.replace(/<(script|noscript)\b[\s\S]*?<\/\1\s*>/g, "");

const note = (headline: string, text: string): string =>
  html`<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${headline}</title></head><body style="font-family:Archivo,system-ui,sans-serif;padding:48px;color:#141B26;background:#E9ECE4"><h1 style="font-size:40px">${headline}</h1><p style="font-size:26px">${text}</p></body></html>`
    .text;

/** Reads everything in a transaction that the database lets write nothing. */
const readOnly = <T>(em: EntityManager, read: (em: EntityManager) => Promise<T>): Promise<T> => em.transactional(read, { readOnly: true });

const lookAs = async (em: EntityManager, bundle: LaunchBundle, as: SeenAs, at: Date): Promise<Onlooker> =>
  as.kind === "person" ? ((await onlookerOfContact(em, bundle, as.id)) ?? {}) : onlookerOfKind(as, bundle.plan, at);

/**
 * A public address as a person would see it at an instant, past or future, from the very function that answers the
 * public. Writes nothing, starts no clock, sends nothing.
 */
export const previewAddress = async (app: App, fork: EntityManager, slug: string, path: string, as: SeenAs, at: Date): Promise<string | undefined> =>
  readOnly(fork, async (em) => {
    const bundle = await loadBundle(em, { slug });
    if (!bundle) return undefined;
    const seen = view(bundle.plan, await lookAs(em, bundle, as, at), at, await countersOf(em, bundle));
    const address = seen.addresses.find((other) => other.slug === path);
    if (!address) return undefined;
    const { answer } = address;
    if ("redirect" in answer) return note("Goes on", `This address leads to ${leadsTo(bundle, answer)}.`);
    const page = bundle.pages.find(({ key }) => key === answer.page.key)!;
    const compiled = bundle.compiled[page.key];
    if (!page.published || !compiled) return note("Not open to the public yet", "This page is not published.");
    const filled = await sample(app, em, bundle, page, page.published.button, seen, address, at);
    return inert(renderPage(bundle, compiled, seen, address, filled, at));
  });

/** A page's draft as its visitors would see it at an instant, whatever its gate says. Writes nothing. */
export const previewDraft = async (app: App, fork: EntityManager, pageId: string, as: SeenAs, at: Date): Promise<string | undefined> =>
  readOnly(fork, async (em) => {
    const page = await em.findOne(Page, { id: pageId });
    const bundle = page && (await loadBundle(em, { id: page.launchId }));
    if (!bundle) return undefined;
    const seen = view(bundle.plan, await lookAs(em, bundle, as, at), at, await countersOf(em, bundle));
    const address = seen.addresses.find(({ slug }) => slug === page.slug)!;
    const compiled: CompiledPage = compilePage({ kind: page.kind, content: page.draft, launch: bundle.launch, vendor: app.config.INKBELL_VENDOR });
    const filled = await sample(app, em, bundle, page, page.draft.button, seen, address, at);
    return inert(renderPage(bundle, compiled, seen, address, filled, at));
  });

const styleHash = createHash("sha256").update(broadsideCss).digest("base64");

/** A preview as an answer of the desk: never kept, never found by a search, without script, forms or a way out. */
export const previewResponse = (body: string | undefined): Response =>
  body === undefined
    ? new Response("There is no such page.", { status: 404 })
    : new Response(body, {
        headers: {
          "content-type": "text/html; charset=utf-8",
          "x-robots-tag": "noindex",
          "content-security-policy": `sandbox; default-src 'none'; style-src 'sha256-${styleHash}'; style-src-attr 'unsafe-inline'; font-src 'self'; img-src 'self'; frame-ancestors 'self'; form-action 'none'`,
        },
      });
