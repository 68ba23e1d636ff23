import { pageAddress } from "../../core/pages";
import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/offers";
import { lockLaunch } from "../../store/launch/lockLaunch";
import { addPath } from "../../store/offers/addPath";
import { randomUUID } from "node:crypto";
import {
  emptyPath,
  insertBefore,
  insertOn,
  isEnd,
  moveEarlier,
  moveLater,
  removeStep,
  renamePath,
  rewire,
  type OfferPath,
  type PathStep,
} from "../../core/offers";
import { withHeadline, withNewIds, type PageContent } from "../../core/pages";
import { PathVersion, Page, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { Refusal, mustBeAllowed, required, wrongField } from "../platform";
import { launchChanged, type LaunchContext, loadLaunch, mustNotBeArchived } from "../launch";
import { fromTemplate, mayAdd, newPage } from "../pages";
import { makeProduct } from "../products";

/** Lays a path as the next version of a launch's. Buyers in the middle of an earlier one finish that. Call in a transaction that holds the launch. */
export const savePath = (
  tx: EntityManager,
  launchId: string,
  path: OfferPath,
  { what, userId, now }: { what: string; userId: string | null; now: Date },
): Promise<number> => addPath(tx, launchId, path, what, userId, now);

/** The path of a launch for another one: new steps, on the pages and with the products of that launch. */
export const copiedPath = (path: OfferPath, pages: ReadonlyMap<string, string>, products: (id: string) => string = (id) => id): OfferPath => {
  const ids = new Map(path.steps.map(({ id }) => [id, randomUUID() as string]));
  return renamePath(path, { step: (id) => ids.get(id) ?? id, page: (id) => pages.get(id) ?? id, product: products });
};

type Change = BodyOf<typeof contract.changePath>["change"];

/** A free address below the launch, made from a name. */
const freeAddress = (context: LaunchContext, name: string): string => {
  const plain =
    name
      .normalize("NFKD")
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 60) || "offer";
  const read = pageAddress.safeParse(plain);
  const base = read.success ? read.data : `offer-${plain}`;
  const taken = (slug: string) => context.pages.some((page) => page.slug === slug || page.key === slug);
  for (let n = 1; ; n += 1) {
    const slug = n === 1 ? base : `${base}-${n}`;
    if (!taken(slug)) return slug;
  }
};

const offerPage = async (tx: EntityManager, context: LaunchContext, template: string, product: Product): Promise<Page> => {
  const made = await fromTemplate(tx, template, product.name);
  if (made?.kind !== "offer") throw wrongField("nothing_added", "template", { code: "no_such_template" });
  const slug = freeAddress(context, product.name);
  mayAdd(context, slug, "offer");
  // Neighbouring pages match: the look of the page before it, where that has one of its own.
  const look = context.steps.at(-1)?.page.draft.look ?? made.content.look;
  const page = newPage(tx, { launchId: context.launch.id, kind: "offer", key: slug, slug, draft: { ...made.content, look } });
  await tx.persist(page).flush();
  return page;
};

/** A new product for a step: like another one of the vendor's, or like the launch's own. */
const makeLike = async (
  tx: EntityManager,
  context: LaunchContext,
  { like, name, price }: { like?: string; name: string; price: string },
  label: string,
  now: Date,
): Promise<Product> => {
  const from = like ? required(await tx.findOne(Product, { id: like }), "product") : undefined;
  const made = await makeProduct(tx, from ?? context.product, { name, price, label }, now);
  if (from) {
    const { description, kind, terms, mediaId, limitPerPerson } = from;
    Object.assign(made, { description, kind, terms, mediaId, limitPerPerson });
    await tx.flush();
  }
  return made;
};

/** A copy of an offer page of this launch, as a draft that names what it sells. */
const copiedPage = async (tx: EntityManager, context: LaunchContext, id: string, product: Product): Promise<Page> => {
  const from = required(await tx.findOne(Page, { id, launchId: context.launch.id, kind: "offer" }), "offer_page");
  const slug = freeAddress(context, product.name);
  mayAdd(context, slug, "offer");
  const draft: PageContent = withHeadline(
    withNewIds(from.draft, () => randomUUID().slice(0, 8)),
    product.name,
  );
  const page = newPage(tx, { launchId: context.launch.id, kind: "offer", key: slug, slug, draft });
  await tx.persist(page).flush();
  return page;
};

const applied = async (tx: EntityManager, context: LaunchContext, change: Change, now: Date): Promise<{ path: OfferPath; what: string }> => {
  const { path } = context.savedPath;
  const nameOf = (id: string) => context.steps.find((step) => step.id === id)?.product.name ?? "a step";
  const must = (id: string): PathStep =>
    required(
      path.steps.find((step) => step.id === id),
      "step",
    );
  switch (change.do) {
    case "add": {
      const product =
        "id" in change.product
          ? required(await tx.findOne(Product, { id: change.product.id }), "product")
          : await makeLike(tx, context, change.product, change.kind === "downsell" ? "Downsell" : "One-time offer", now);
      if (product.currency !== context.product.currency)
        throw wrongField("nothing_added", "product", { code: "product_currency", currency: product.currency });
      const page =
        "id" in change.page
          ? required(await tx.findOne(Page, { id: change.page.id, launchId: context.launch.id, kind: "offer" }), "offer_page")
          : "copy" in change.page
            ? await copiedPage(tx, context, change.page.copy, product)
            : await offerPage(tx, context, change.page.template, product);
      if (path.steps.some(({ pageId }) => pageId === page.id)) throw wrongField("nothing_added", "page", { code: "on_path_already" });
      const made = { id: randomUUID(), kind: change.kind, productId: product.id, pageId: page.id, sure: false };
      if ("from" in change.at && change.at.from !== "checkout") must(change.at.from);
      if ("before" in change.at && !isEnd(change.at.before)) must(change.at.before);
      return {
        path: "before" in change.at ? insertBefore(path, change.at.before, made) : insertOn(path, change.at, made),
        what: `${product.name} added`,
      };
    }
    case "remove":
      return { path: removeStep(path, must(change.step).id), what: `${nameOf(change.step)} taken away` };
    case "earlier":
      return { path: moveEarlier(path, must(change.step).id), what: `${nameOf(change.step)} moved earlier` };
    case "later":
      return { path: moveLater(path, must(change.step).id), what: `${nameOf(change.step)} moved later` };
    case "lead": {
      const led = rewire(path, must(change.step).id, change.rail, change.to);
      if ("code" in led) throw new Refusal(led.code === "cycle" ? { code: "cycle", through: led.through.map(nameOf) } : { code: "edge_to_nothing" });
      return { path: led, what: `${change.rail} of ${nameOf(change.step)} led on` };
    }
    case "set": {
      const step = must(change.step);
      if (change.change.productId) {
        const product = required(await tx.findOne(Product, { id: change.change.productId }), "product");
        if (product.currency !== context.product.currency)
          throw wrongField("nothing_changed", "product", { code: "product_currency", currency: product.currency });
      }
      if (change.change.pageId) {
        required(await tx.findOne(Page, { id: change.change.pageId, launchId: context.launch.id, kind: "offer" }), "offer_page");
        if (path.steps.some(({ id, pageId }) => id !== step.id && pageId === change.change.pageId))
          throw wrongField("nothing_changed", "page", { code: "on_path_already" });
      }
      return {
        path: { ...path, steps: path.steps.map((one) => (one.id === step.id ? { ...one, ...change.change } : one)) },
        what: `${nameOf(step.id)} changed`,
      };
    }
    case "restore": {
      const before =
        change.to === 0
          ? { path: emptyPath }
          : required(await tx.findOne(PathVersion, { launchId: context.launch.id, version: change.to }), "version");
      return { path: before.path, what: `As it was in version ${change.to}` };
    }
    case "copy":
      return copyFrom(tx, context, change.launch);
  }
};

/** The path of another launch with copies of its pages as drafts; its products are sold here too. */
const copyFrom = async (tx: EntityManager, context: LaunchContext, slug: string): Promise<{ path: OfferPath; what: string }> => {
  const from = required(await loadLaunch(tx, { slug }), "launch");
  if (from.launch.id === context.launch.id) throw wrongField("nothing_copied", "launch", { code: "choose_other_launch" });
  if (from.product.currency !== context.product.currency)
    throw wrongField("nothing_copied", "launch", { code: "launch_currency", theirs: from.product.currency, own: context.product.currency });
  const pages = new Map<string, string>();
  let here = context;
  for (const { page } of from.steps) {
    const draft: PageContent = withNewIds(page.draft, () => randomUUID().slice(0, 8));
    const slugHere = freeAddress(here, page.slug);
    const made = newPage(tx, { launchId: context.launch.id, kind: "offer", key: slugHere, slug: slugHere, draft });
    await tx.persist(made).flush();
    pages.set(page.id, made.id);
    here = { ...here, pages: [...here.pages, made] };
  }
  // Ends on the other launch's pages are ends on this one's own.
  const ended = {
    ...from.savedPath.path,
    steps: from.savedPath.path.steps.map((step) => ({ ...step, yesTo: endHere(step.yesTo), noTo: endHere(step.noTo) })),
  };
  return { path: copiedPath({ ...ended, first: endHere(ended.first) }, pages), what: `Copied from ${from.launch.name}` };
};
const endHere = (to: string) => (isEnd(to) ? emptyPath.first : to);

/** Changes a launch's offer path: a new version, which buyers from now on walk. Answers it. */
export const changePath = async (
  em: EntityManager,
  user: DeskUser,
  slug: string,
  { version, change }: BodyOf<typeof contract.changePath>,
  now: Date,
): Promise<{ version: number }> => {
  mustBeAllowed(user, "path.edit");
  return em.transactional(async (tx) => {
    await lockLaunch(tx, { slug });
    const context = required(await loadLaunch(tx, { slug }), "launch");
    mustNotBeArchived(context.launch);
    if (context.savedPath.version !== version) throw new Refusal({ code: "changed_meanwhile", what: "path" });
    const { path, what } = await applied(tx, context, change, now);
    const saved = await savePath(tx, context.launch.id, path, { what, userId: user.id, now });
    await launchChanged(tx);
    return { version: saved };
  });
};
