import { randomUUID } from "node:crypto";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, mustBeAllowed, readLink, Refusal, signLink } from "../platform";
import { deskLaunch, type LaunchContext, loadLaunch } from "../launch";
import { compileFor } from "../pages";

/** A launch as it is tried out: its drafts as if they were published, for a visitor who stands apart from all others. */
export interface Trying {
  context: LaunchContext;
  visitorId: string;
}

/** Days for which a link to try a launch out holds. */
const days = 1;

/** A link that lets a launch be walked as a buyer, with a browser of its own made up for it. */
export const tryLink = (app: App, launchId: string): string =>
  signLink(app.config.INKBELL_SECRET, "try_out", `${launchId}/${randomUUID()}`, app.clock.now(), days);

/** The address at which somebody of the desk begins to walk a launch as a buyer: its checkout. */
export const beginTrying = async (app: App, em: EntityManager, user: DeskUser, slug: string | undefined): Promise<string> => {
  mustBeAllowed(user, "test.run");
  const { launch, pages } = await deskLaunch(em, slug);
  const checkout = pages.find(({ kind }) => kind === "checkout");
  if (!checkout) throw new Refusal({ code: "sells_nothing" });
  return `/l/${launch.slug}/${checkout.slug}?try=${tryLink(app, launch.id)}`;
};

/** The launch that a link lets try out, with its drafts; undefined where the link is none of this launch. */
export const tryingOut = async (app: App, slug: string, link: string | null | undefined): Promise<Trying | undefined> => {
  const [launchId, visitorId] = (readLink(app.config.INKBELL_SECRET, "try_out", link, app.clock.now()) ?? "").split("/");
  if (!launchId || !visitorId) return undefined;
  const em = app.fork();
  const context = await loadLaunch(em, { slug }, async (pages, launch) => {
    for (const page of pages)
      Object.assign(page, { published: page.draft, compiled: await compileFor(em, launch, page, page.draft, app.vendor.name) });
  });
  return context?.launch.id === launchId ? { context, visitorId } : undefined;
};
