import { publicWords } from "../../core/words";
import { hasConfirmed } from "../../store/people/hasConfirmed";
import { PageComment } from "../../store/tables";
import { view } from "../../core/launch";
import { formatMoney } from "../../core/money";
import { missingToCharge, type CompiledPage, type Hole } from "../../core/pages";
import { countdownSentence } from "../../public/countdown";
import type { CommentFacts, Extras } from "../../public/facts";
import { priceWords } from "../../core/offers";
import type { EntityManager } from "../../store/orm";
import { type Identity, type LaunchContext, personIdOf } from "../launch";
import { wasPrice } from "../offers";
import { partnerWordFor } from "../partners";

const kinds = new WeakMap<CompiledPage, Set<Hole["kind"]>>();
const kindsIn = (page: CompiledPage): Set<Hole["kind"]> => {
  let found = kinds.get(page);
  if (!found) kinds.set(page, (found = new Set(page.holes.map(({ kind }) => kind))));
  return found;
};

const asks: Hole["kind"][] = ["live", "comments", "cross", "partner", "addition"];
/** Whether a page has a block for which the database must be asked. */
export const asksMore = (page: CompiledPage): boolean => asks.some((kind) => kindsIn(page).has(kind));

/** Whether a person has a place in the live session of a page: they opted in there, and the address is theirs. */
export const isRegistered = async (em: EntityManager, { launch }: LaunchContext, page: string, identity: Identity): Promise<boolean> => {
  const person = await personIdOf(em, identity);
  return person !== undefined && hasConfirmed(em, launch.id, page, person);
};

/** How many comments a page shows. */
const mostShown = 100;

const shownComments = async (em: EntityManager, launchId: string, pages: string[]): Promise<CommentFacts[]> => {
  const rows = await em.find(PageComment, { launchId, page: { $in: pages }, state: "shown" }, { orderBy: { at: -1 }, limit: mostShown });
  return rows.map(({ name, body, at, reply }) => ({ name, body, at, reply }));
};

/** Another launch as a cross-offer shows it to anybody: what it costs or when it opens; undefined while it cannot be bought. */
const crossFacts = ({ plan, product }: LaunchContext, now: Date): NonNullable<Extras["cross"]>[string] => {
  const seen = view(plan, {}, now);
  const home = seen.addresses.find(({ slug }) => slug === "");
  const open = home && "page" in home.answer && home.answer.page.published;
  if (!open || seen.phase === "after" || missingToCharge(plan).length > 0) return undefined;
  const { price } = home;
  const tax = product.taxMode === "inclusive" ? "tax included" : "plus tax";
  return {
    name: plan.name,
    href: `/l/${plan.slug}`,
    ...(seen.phase === "during" && price
      ? { price: `${formatMoney(price.minor, price.currency)} ${tax}` }
      : {
          opens: seen.countdown
            ? countdownSentence(seen.countdown, plan.zone)
            : `${formatMoney(home.price!.minor, home.price!.currency)} ${tax}, while your own clock runs`,
        }),
  };
};

/** What offers in a page sell, with their prices as they are charged. */
const additionFacts = async (em: EntityManager, context: LaunchContext, ids: Set<string>, now: Date): Promise<NonNullable<Extras["additions"]>> => {
  const facts: NonNullable<Extras["additions"]> = {};
  for (const product of context.additions.filter(({ id }) => ids.has(id))) {
    const was = await wasPrice(em, product, now);
    facts[product.id] = {
      name: product.name,
      picture: context.pictures.get(product.id),
      price: `${priceWords(product.terms, product.priceMinor, product.currency)}${product.taxMode === "inclusive" ? "" : ` ${publicWords().price.plusTaxShort}`}`,
      ...(was ? { was: formatMoney(was, product.currency) } : {}),
    };
  }
  return facts;
};

interface Asked {
  context: LaunchContext;
  page: { key: string; compiled: CompiledPage };
  identity: Identity;
  now: Date;
  /** Looks up another launch by its address. */
  launch: (slug: string) => Promise<LaunchContext | undefined>;
}

/** What the blocks of a page ask of the database, for this person. Nothing is asked for a page that has none of them. */
export const extrasOf = async (em: EntityManager, { context, page, identity, now, launch: lookUp }: Asked): Promise<Extras> => {
  const has = kindsIn(page.compiled);
  const { plan, launch } = context;
  const scopes = new Set(page.compiled.holes.flatMap((hole) => (hole.kind === "comments" ? [hole.block.scope] : [])));
  const sold = new Set(page.compiled.holes.flatMap((hole) => (hole.kind === "addition" && hole.block.product ? [hole.block.product] : [])));
  const run = plan.episodes.map((episode) => episode.page.key);
  return {
    ...(sold.size > 0 ? { additions: await additionFacts(em, context, sold, now) } : {}),
    ...(has.has("live") ? { registered: await isRegistered(em, context, page.key, identity) } : {}),
    ...(has.has("comments")
      ? {
          comments: {
            page: scopes.has("page") ? await shownComments(em, launch.id, [page.key]) : [],
            // Outside the run there is no run: the page's own.
            run: scopes.has("run") ? await shownComments(em, launch.id, run.includes(page.key) ? run : [page.key]) : [],
          },
        }
      : {}),
    ...(has.has("partner") ? { partner: await partnerWordFor(em, context, identity.visitorId, now) } : {}),
    ...(has.has("cross") ? { cross: await crossOf(page.compiled, launch.slug, now, lookUp) } : {}),
  };
};

const crossOf = async (page: CompiledPage, own: string, now: Date, lookUp: Asked["launch"]): Promise<Extras["cross"]> => {
  const slugs = [...new Set(page.holes.flatMap((hole) => (hole.kind === "cross" && hole.block.launch !== own ? [hole.block.launch] : [])))];
  const found = await Promise.all(slugs.map(async (slug) => [slug, await lookUp(slug)] as const));
  return Object.fromEntries(found.flatMap(([slug, other]) => (other ? [[slug, crossFacts(other, now)]] : [])));
};
