import { launchesOf } from "../launch";
import { pageLeaves } from "../../core/pages";
import type { App } from "../platform";

/**
 * The vendor's own HTML of a published page, in a document without an origin: its programs reach neither the page
 * around it nor anything of this site. Undefined where the page has no such block.
 */
export const frameOf = async (app: App, slug: string, key: string, block: string | null): Promise<string | undefined> => {
  const context = await launchesOf(app).bySlug(slug);
  const page = context && [...context.pages, ...context.variants].find((one) => one.key === key);
  const leaf = page?.published && pageLeaves(page.published).find(({ id }) => id === block);
  return leaf?.type === "html" ? leaf.code : undefined;
};

/** The policy of such a document: shut off (`sandbox`), and free to load what it needs from other sites. */
export const framePolicy =
  "sandbox allow-scripts allow-forms allow-popups; default-src https: data: blob: 'unsafe-inline'; base-uri 'none'; frame-ancestors 'self'";
