import { notify } from "../../store/platform/notify";
import { askedPrices } from "../../store/products/askedPrices";
import {
  fillSome,
  headlineOf,
  variantName,
  mediaHref,
  pageLeaves,
  withoutVariant,
  type Arm,
  type BlockOf,
  type CompiledPage,
  type PageContent,
  type LinkSource,
} from "../../core/pages";
import { sharedFields } from "../../core/emails";
import { pageKinds, planOf, type LaunchPlan, type LaunchSource } from "../../core/launch";
import { currenciesOf, emptyPath, without, type AskedPrice, type OfferPath, type PathStep } from "../../core/offers";
import { hrefAttributes, leadsToEpisode } from "../../public/fillHole";
import { Launch, LaunchEmail, Media, OneOffEmail, Page, PageAddress, PathVersion, Product } from "../../store/tables";
import type { EntityManager } from "../../store/orm";

/** A launch with its plan: all that its clock, its bells and its price need. */
export interface PlannedLaunch {
  launch: Launch;
  source: LaunchSource;
  plan: LaunchPlan;
  /** What it sells. */
  product: Product;
}

/** A launch with all that answering its addresses needs. */
export interface LaunchContext extends PlannedLaunch {
  /** The products that its pages and its path sell, by their ids. */
  products: Map<string, Product>;
  pages: Page[];
  /** The offer path that buyers walk now: steps that cannot be shown yet are passed over. */
  path: OfferPath;
  /** The newest version of the path as it was saved, 0 where none ever was, with all its steps. */
  savedPath: { version: number; path: OfferPath };
  steps: OfferStep[];
  /** The bumps of the published checkout, in the order of the page. */
  bumps: { block: BlockOf<"bump">; product: Product }[];
  /** Pictures of the products, by their ids, as addresses. */
  pictures: Map<string, string>;
  /** Prices that were asked of the main product, in its own currency. */
  asked: AskedPrice[];
  /** Products that offers in published pages add to an order before it is paid. */
  additions: Product[];
  /** Published pages by their key, ready to send. */
  compiled: Record<string, CompiledPage | undefined>;
  /** Pages with several published versions: those versions, the page itself among them as A. */
  arms: Record<string, (Arm & { key: string })[] | undefined>;
  /** Versions of pages that are tested beside them. */
  variants: Page[];
  /** Pages that were archived: no part of the launch while they are. */
  archived: Page[];
  /** What its emails say, by their keys. */
  emails: ReadonlyMap<string, LaunchEmail>;
  /** Its emails that go once, by their ids. */
  oneOffs: ReadonlyMap<string, OneOffEmail>;
  /** Addresses that pages had before, with those they have now. */
  moved: Record<string, string | undefined>;
}

/** A step of an offer path with what it sells and where. */
export type OfferStep = PathStep & { product: Product; page: Page };

/** A launch as the core and the desk's screens know it. */
export const sourceOf = (
  launch: Launch,
  pages: readonly Pick<Page, "key" | "kind" | "slug" | "published" | "draft">[],
  product: Pick<Product, "name" | "priceMinor" | "currency">,
  emails: readonly Pick<LaunchEmail, "key" | "draft" | "published">[],
): LaunchSource => ({
  slug: launch.slug,
  name: launch.name,
  zone: launch.zone,
  shape: launch.shape,
  settings: launch.settings,
  pages: pages.map(({ key, kind, slug, published, draft }) => ({
    key,
    kind,
    slug,
    title: headlineOf(published ?? draft),
    published: published !== null,
  })),
  subjects: Object.fromEntries(
    emails.map(({ key, draft, published }) => [key, sharedFields((published ?? draft).subject, { launch: launch.name, product: product.name })]),
  ),
  price: { minor: product.priceMinor, currency: product.currency },
});

/** The pages of a launch in visiting order: content pages warm a list up between the opt-in and the sale. */
const inVisitingOrder = <P extends Pick<Page, "key" | "kind" | "slug">>(pages: readonly P[]): P[] => {
  const order = ["optin", "content", ...pageKinds.filter((kind) => kind !== "optin" && kind !== "content")];
  // The page a launch began with stands for its kind, before others of the kind.
  const own = ({ key, kind }: P) => Number(key !== kind);
  return [...pages].sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind) || own(a) - own(b) || a.slug.localeCompare(b.slug));
};

/** The launches that are not archived, with their plans: three statements, however many there are. */
export const shownPlans = async (em: EntityManager): Promise<PlannedLaunch[]> => {
  const launches = await em.find(Launch, { archivedAt: null });
  const pages = await em.find(
    Page,
    { launchId: { $in: launches.map(({ id }) => id) }, archivedAt: null, variantOf: null },
    { fields: ["launchId", "key", "kind", "slug", "published", "draft"] },
  );
  const products = await em.find(Product, { id: { $in: launches.map(({ mainProductId }) => mainProductId) } });
  const emails = await em.find(LaunchEmail, { launchId: { $in: launches.map(({ id }) => id) } });
  return launches.map((launch) => {
    const product = products.find(({ id }) => id === launch.mainProductId)!;
    const own = inVisitingOrder(pages.filter(({ launchId }) => launchId === launch.id));
    const source = sourceOf(
      launch,
      own,
      product,
      emails.filter(({ launchId }) => launchId === launch.id),
    );
    return { launch, product, source, plan: planOf(source) };
  });
};

/** A published page with its links filled in, as far as where they lead hangs on the launch alone: an episode may be locked. */
const linked = ({ compiled, key }: Page, source: LinkSource): CompiledPage | undefined =>
  compiled
    ? fillSome(compiled, (hole) =>
        hole.kind === "href" && !leadsToEpisode(source, withoutVariant(key), hole.to)
          ? hrefAttributes(source, withoutVariant(key), hole.to)
          : undefined,
      )
    : undefined;

const additionsIn = (content: PageContent): string[] =>
  pageLeaves(content).flatMap((leaf) => (leaf.type === "addition" && leaf.product ? [leaf.product] : []));
const bumpsIn = (content: PageContent): BlockOf<"bump">[] => pageLeaves(content).filter((leaf): leaf is BlockOf<"bump"> => leaf.type === "bump");

const armsOf = (page: Page, variants: Page[]): (Arm & { key: string })[] | undefined => {
  const shown = [page, ...variants.filter(({ variantOf }) => variantOf === page.id)].filter(({ published }) => published);
  return shown.length > 1 ? shown.map(({ key, weight }) => ({ key, weight, variant: variantName({ key }) })) : undefined;
};

/** The steps of a path with their products and pages; one that has lost either is left out. */
export const fullSteps = (path: OfferPath, pages: Page[], products: Product[]): OfferStep[] =>
  path.steps.flatMap((step) => {
    const [product, page] = [products.find(({ id }) => id === step.productId), pages.find(({ id }) => id === step.pageId)];
    return product && page ? [{ ...step, product, page }] : [];
  });

/** Steps of a path that may not be shown: nothing unfinished is sold, and one order has one currency. */
export const hiddenSteps = (path: OfferPath, steps: OfferStep[], currency: string): string[] => {
  const shown = steps.filter(({ page, product }) => page.published !== null && product.onSale && currenciesOf(product).includes(currency));
  return path.steps.map(({ id }) => id).filter((id) => !shown.some((step) => step.id === id));
};

/** Loads a launch by its address; undefined where there is none. `prepare` may show its pages otherwise than they are published. */
export const loadLaunch = async (
  em: EntityManager,
  where: { slug: string } | { id: string },
  prepare?: (pages: Page[], launch: Launch) => Promise<void>,
): Promise<LaunchContext | undefined> => {
  const launch = await em.findOne(Launch, where);
  if (!launch) return undefined;
  // One after the other: in a transaction all of them go over one connection.
  const all = await em.find(Page, { launchId: launch.id });
  const rows = all.filter(({ archivedAt }) => archivedAt === null);
  const addresses = await em.find(PageAddress, { launchId: launch.id });
  const [newest] = await em.find(PathVersion, { launchId: launch.id }, { orderBy: { version: -1 }, limit: 1 });
  const asked = await askedPrices(em, [launch.mainProductId]);
  const emails = await em.find(LaunchEmail, { launchId: launch.id });
  const oneOffs = await em.find(OneOffEmail, { launchId: launch.id });
  await prepare?.(rows, launch);
  const bumpBlocks = rows.flatMap(({ kind, published }) => (kind === "checkout" && published ? bumpsIn(published) : []));
  const savedPath = { version: newest?.version ?? 0, path: newest?.path ?? emptyPath };
  const additions = rows.flatMap(({ published }) => (published ? additionsIn(published) : []));
  const wanted = [
    ...additions,
    launch.mainProductId,
    ...savedPath.path.steps.map((step) => step.productId),
    ...bumpBlocks.flatMap(({ product }) => product ?? []),
  ];
  const products = await em.find(Product, { id: { $in: [...new Set(wanted)] } });
  const shown = products.flatMap(({ mediaId }) => mediaId ?? []);
  const media = shown.length > 0 ? await em.find(Media, { id: { $in: shown } }) : [];
  const productOf = (id: string) => products.find((product) => product.id === id)!;
  const product = productOf(launch.mainProductId);
  const pages = inVisitingOrder(rows.filter(({ variantOf }) => !variantOf));
  const variants = rows.filter(({ variantOf }) => variantOf).sort((a, b) => a.key.localeCompare(b.key));
  const steps = fullSteps(savedPath.path, pages, products);
  const source = sourceOf(launch, pages, product, emails);
  return {
    launch,
    pages,
    product,
    products: new Map(products.map((one) => [one.id, one])),
    source,
    plan: planOf(source),
    savedPath,
    steps,
    path: without(savedPath.path, hiddenSteps(savedPath.path, steps, product.currency)),
    bumps: bumpBlocks.flatMap((block) => {
      const added = products.find(({ id }) => id === block.product);
      // What is sold already, in another currency or not at all cannot be added, and nothing to what is bought alone.
      return added && added.id !== product.id && currenciesOf(added).includes(product.currency) && added.onSale && !product.alone
        ? [{ block, product: added }]
        : [];
    }),
    pictures: new Map(
      products.flatMap(({ id, mediaId }) => {
        const one = media.find((row) => row.id === mediaId);
        return one ? [[id, mediaHref(one, `${one.widths[0]!}.webp`)] as const] : [];
      }),
    ),
    asked: asked.get(product.id) ?? [],
    additions: products.filter((one) => additions.includes(one.id) && one.id !== product.id && one.onSale),
    compiled: Object.fromEntries(rows.map((page) => [page.key, linked(page, source)])),
    arms: Object.fromEntries(pages.map((page) => [page.key, armsOf(page, variants)])),
    variants,
    emails: new Map(emails.map((one) => [one.key, one])),
    oneOffs: new Map(oneOffs.map((one) => [one.id, one])),
    archived: all.filter(({ archivedAt }) => archivedAt !== null).sort((a, b) => a.slug.localeCompare(b.slug)),
    moved: Object.fromEntries(addresses.map(({ slug, pageId }) => [slug, pages.find(({ id }) => id === pageId)?.slug])),
  };
};

/** Tells every process that a launch is not what it was. Call in the transaction that changes it. */
export const launchChanged = (em: EntityManager): Promise<void> => notify(em, "launch_changed");
