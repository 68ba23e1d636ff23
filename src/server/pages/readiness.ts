import { changesBetween, headlineOf, launchGaps, readyToPublish, withoutVariant, type LaunchGap } from "../../core/pages";
import { emailsToPublish } from "../../core/emails";
import type { EntityManager } from "../../store/orm";
import type { LaunchContext } from "../launch";
import { aroundPage } from "./publish";

/** A page that can be made public as it stands, with what that would change. */
export interface PublishablePage {
  id: string;
  key: string;
  version: number;
  title: string;
  /** What differs from what the public sees; empty for a page that nobody has seen yet. */
  changes: string[];
}

/** What a launch lacks at an instant. */
export const gapsOfLaunch = ({ plan, pages, savedPath, product, emails }: LaunchContext, at: Date): LaunchGap[] => {
  const onPath = pages.filter(({ id }) => savedPath.path.steps.some(({ pageId }) => pageId === id)).map(({ key }) => key);
  const digital = product.kind === "download" || product.kind === "library";
  return launchGaps({
    plan,
    pages,
    onPath,
    product: { id: product.id, name: product.name, digital, accessAtOnce: product.accessAtOnce },
    unpublishedEmails: emailsToPublish(plan, (key) => Boolean(emails.get(key)?.published), at),
    at,
  });
};

/** What a launch lacks, and which pages can be made public by one press. */
export const readinessOf = async (em: EntityManager, context: LaunchContext, at: Date): Promise<{ gaps: LaunchGap[]; ready: PublishablePage[] }> => {
  const { pages, savedPath, source } = context;
  const onPath = pages.filter(({ id }) => savedPath.path.steps.some(({ pageId }) => pageId === id)).map(({ key }) => key);
  const { launches, products } = await aroundPage(em, context);
  const keys = readyToPublish(
    pages.map(({ id, key, kind, draft, published }) => ({ id, key: withoutVariant(key), kind, draft, published })),
    { source: source, launches, products },
    onPath,
  );
  const ready = pages
    .filter(({ key }) => keys.includes(withoutVariant(key)))
    .map(({ id, key, version, draft, published }) => ({
      id,
      key,
      version,
      title: headlineOf(draft),
      changes: published ? changesBetween(published, draft).map(({ what, name }) => `${name} ${what}`) : [],
    }));
  return { gaps: gapsOfLaunch(context, at), ready };
};
