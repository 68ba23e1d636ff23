import { setRefundDays as setProductRefundDays } from "../../store/products/setRefundDays";
import { draftListing, listingPicture, pictureBytes } from "../../store/markets/listings";
import sharp from "sharp";
import { addressOf, missingToCharge } from "../../core/pages";
import { readiness, submitRefusal, type MarketplaceTerms, type RuleStatus } from "../../core/markets";
import { Listing, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { MarketplaceRefused } from "../../outside/marketplace";
import { type App, Refusal, mustBeAllowed, wrongField } from "../platform";
import { launchChanged, type LaunchContext } from "../launch";

export interface ListingView {
  listing: Listing;
  terms: MarketplaceTerms;
  rules: RuleStatus[];
}

const outward = async <T>(work: () => Promise<T>): Promise<T> => {
  try {
    return await work();
  } catch (error) {
    if (error instanceof MarketplaceRefused) throw new Refusal({ code: "marketplace", answer: error.message });
    throw error;
  }
};

/** The launch's listing on the marketplace, made as a draft where there is none, held against the marketplace's rules. */
export const listingView = async (app: App, em: EntityManager, context: LaunchContext): Promise<ListingView> => {
  const where = { launchId: context.launch.id, marketplace: app.market.key };
  await draftListing(em, context.launch.id, context.product.id, app.market.key);
  const listing = await em.findOneOrFail(Listing, where, { refresh: true });
  const terms = await outward(() => app.market.terms());
  const { pictureWidth: width, pictureHeight: height } = listing;
  const bytes = await pictureBytes(em, listing.id);
  const rules = readiness(terms, {
    picture: width && height ? { width, height, bytes } : undefined,
    refundDays: context.product.refundDays,
    termsAcceptedAt: listing.termsAcceptedAt ?? undefined,
    testOrderAt: listing.testOrderAt ?? undefined,
    checkoutPublished: missingToCharge(context.plan).length === 0,
  });
  return { listing, terms, rules };
};

/** The page that sells, wherever the launch has it: a short one has it at its own address. */
const salesPage = ({ pages }: LaunchContext): { slug: string } => pages.find(({ kind }) => kind === "sales") ?? { slug: "" };

const mustBeChangeable = (listing: Listing): void => {
  if (listing.state === "submitted" || listing.state === "live") {
    throw new Refusal({ code: "wrong_state", state: listing.state });
  }
};

/** Takes the listing's picture: PNG, JPEG or WebP, re-encoded as PNG without its metadata. */
export const setPicture = async (app: App, em: EntityManager, user: DeskUser, context: LaunchContext, bytes: Uint8Array): Promise<void> => {
  mustBeAllowed(user, "listing.edit");
  const { listing } = await listingView(app, em, context);
  mustBeChangeable(listing);
  if (bytes.length > 8 * 1024 * 1024) throw wrongField("nothing_saved", "picture", { code: "file", why: "listing_picture_large" });
  const wrong = wrongField("nothing_saved", "picture", { code: "file", why: "listing_picture" });
  const image = sharp(bytes, { limitInputPixels: 40_000_000, failOn: "error" });
  const format = await image.metadata().then(
    (meta) => meta.format,
    () => undefined,
  );
  if (!format || !["png", "jpeg", "webp"].includes(format)) throw wrong;
  const made = await image
    .png({ palette: true })
    .toBuffer({ resolveWithObject: true })
    .catch(() => undefined);
  if (!made) throw wrong;
  await em.nativeUpdate(Listing, { id: listing.id }, { picture: made.data, pictureWidth: made.info.width, pictureHeight: made.info.height });
};

/** Sets the days within which a buyer may have the money back. Holds for later orders; commissions already held stay as they are. */
export const setRefundDays = async (em: EntityManager, user: DeskUser, context: LaunchContext, days: number): Promise<void> => {
  mustBeAllowed(user, "listing.edit");
  await setProductRefundDays(em, context.product.id, days);
  await launchChanged(em);
};

export const acceptTerms = async (app: App, em: EntityManager, user: DeskUser, context: LaunchContext): Promise<void> => {
  mustBeAllowed(user, "listing.accept_terms");
  const { listing } = await listingView(app, em, context);
  await em.nativeUpdate(Listing, { id: listing.id, termsAcceptedAt: null }, { termsAcceptedAt: app.clock.now() });
};

const upload = async (app: App, em: EntityManager, listing: Listing, context: LaunchContext) => {
  const { product, launch } = context;
  const draft = await outward(() =>
    app.market.saveDraft({
      reference: listing.id,
      title: product.name,
      description: product.description,
      vendor: app.vendor.name,
      priceMinor: product.priceMinor,
      currency: product.currency,
      refundDays: product.refundDays,
      salesPage: `${app.config.origin}${addressOf(launch.slug, salesPage(context))}`,
    }),
  );
  await em.nativeUpdate(Listing, { id: listing.id }, { externalId: draft.id });
  return draft;
};

/** Sends the draft to the marketplace and answers where a test order can be made there. */
export const beginTestOrder = async (app: App, em: EntityManager, user: DeskUser, context: LaunchContext): Promise<string> => {
  mustBeAllowed(user, "listing.edit");
  const { listing, rules } = await listingView(app, em, context);
  mustBeChangeable(listing);
  if (rules.some(({ rule, status }) => rule === "test_order" && status === "cannot_tell")) {
    throw new Refusal({ code: "pages_missing" });
  }
  return (await upload(app, em, listing, context)).test_order_url;
};

/** Submits the listing for review; refused while a rule is not met. */
export const submitListing = async (app: App, em: EntityManager, user: DeskUser, context: LaunchContext): Promise<void> => {
  mustBeAllowed(user, "listing.edit");
  const { listing, rules } = await listingView(app, em, context);
  const refusal = submitRefusal(listing.state, rules);
  if (refusal?.code === "gaps_open") throw new Refusal({ code: "gaps_open", rules: refusal.rules, of: rules.length });
  if (refusal) throw new Refusal({ code: "already_submitted" });
  const { id } = await upload(app, em, listing, context);
  const picture = await listingPicture(em, listing.id);
  await outward(() => app.market.submit(id, picture));
  await em.nativeUpdate(Listing, { id: listing.id, state: { $in: ["draft", "returned"] } }, { state: "submitted", reasons: null });
};
