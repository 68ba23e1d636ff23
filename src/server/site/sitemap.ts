import { launchesOf } from "../launch";
import { gateAnswer, phaseFor } from "../../core/launch";
import { Launch } from "../../store/tables";
import type { App } from "../platform";
import { html } from "../../public/html";

const priv = new Set(["checkout", "offer", "thanks"]);

/** The addresses that a search may know (sitemaps.org protocol 0.9): published pages that answer for themselves to everyone at this instant. */
export const sitemap = async (app: App): Promise<string> => {
  const now = app.clock.now();
  const slugs = (await app.fork().find(Launch, { archivedAt: null }, { fields: ["slug"], orderBy: { slug: 1 } })).map(({ slug }) => slug);
  const urls: string[] = [];
  for (const slug of slugs) {
    const context = await launchesOf(app).bySlug(slug);
    // A clock of one's own has no state that holds for everyone.
    if (!context) continue;
    const phase = phaseFor(context.plan, {}, now);
    for (const page of context.plan.pages) {
      if (priv.has(page.kind) || !page.published) continue;
      const answer = gateAnswer(context.plan, page, phase);
      const owner = "page" in answer ? context.plan.pages.find(({ key }) => key === answer.page) : undefined;
      // An address that another page answers is known by that page's own, unless it is the launch's.
      if (!owner?.published || (owner.key !== page.key && page.slug !== "")) continue;
      urls.push(`${app.config.origin}/l/${slug}${page.slug ? `/${page.slug}` : ""}`);
    }
  }
  const entries = urls.map((url) => html`<url><loc>${url}</loc></url>`.text).join("");
  return `<?xml version="1.0" encoding="UTF-8"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${entries}</urlset>`;
};
