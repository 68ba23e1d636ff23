import { lockLaunch } from "../../store/launch/lockLaunch";
import { LockMode } from "@mikro-orm/core";
import { headlineOf, pageNames, pageUses, type PageUse } from "../../core/pages";
import { Page, type DeskUser, PageRollup } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, Refusal, required } from "../platform";
import { launchChanged, type LaunchContext, loadLaunch } from "../launch";

/** Something that hangs on a page, in words, with the place of the desk where it is changed. */
export interface PageUseLine {
  says: string;
  href: string;
}

const phases = { before: "before the doors open", during: "while the doors are open", after: "after the close" };
// The first word of a setting's path, with its section on the clock's screen.
const settings: Record<string, { says: string; part: string }> = {
  gates: { says: "a gate", part: "gates" },
  countdowns: { says: "a countdown", part: "countdowns" },
  episodes: { says: "the run of episodes", part: "episodes" },
  stops: { says: "what stops a personal clock", part: "stops" },
  clock: { says: "what starts a personal clock", part: "deadline" },
};

/** What hangs on a page of a launch. */
export const usesOfPage = ({ source, pages, variants, savedPath, launch }: LaunchContext, page: Pick<Page, "id" | "key">): PageUseLine[] => {
  const tested = variants.some(({ variantOf }) => variantOf === page.id);
  const desk = `/desk/${launch.slug}`;
  const nameOf = (key: string) => {
    const one = pages.find((other) => other.key === key)!;
    return one.kind === "content" ? `/${one.slug}` : pageNames[one.kind];
  };
  const line = (use: PageUse): PageUseLine => {
    switch (use.by) {
      case "own_address":
        return { says: "It stands at the launch’s own address, which everybody is sent to.", href: `${desk}/pages` };
      case "orders":
        return { says: "Nothing can be sold without a page of its kind, and there is no other.", href: `${desk}/pages` };
      case "answer":
        return { says: `The address of “${nameOf(use.page)}” answers with it ${phases[use.phase]}.`, href: `${desk}/clock#gates` };
      case "test":
        return { says: "Other versions are tested beside it: end the test first.", href: `${desk}/pages/${page.key}` };
      case "setting": {
        const { says, part } = settings[use.part] ?? { says: "a setting", part: "" };
        return { says: `In Clock, ${says} names it.`, href: `${desk}/clock#${part}` };
      }
      case "step":
        return { says: "It stands on a step of the offer path.", href: `${desk}/offers?at=${use.step}` };
      case "link":
        return { says: `The page “${nameOf(use.page)}” leads to it.`, href: `${desk}/pages/${use.page}?block=${use.block}` };
    }
  };
  const lines = pageUses(source, pages, savedPath.path.steps, page.key, tested).map(line);
  return lines.filter(({ says }, index) => lines.findIndex((one) => one.says === says) === index);
};

/** Takes a page out of its launch, or puts it back as a draft. It is not public any more from then on, and keeps its address, its history and its figures. */
export const archivePage = async (em: EntityManager, user: DeskUser, pageId: string, archived: boolean, now: Date): Promise<void> => {
  mustBeAllowed(user, archived ? "page.publish" : "page.edit");
  await em.transactional(async (tx) => {
    const where = { id: pageId, variantOf: null };
    await lockLaunch(tx, { id: required(await tx.findOne(Page, where), "page").launchId });
    const page = required(await tx.findOne(Page, where, { lockMode: LockMode.PESSIMISTIC_WRITE }), "page");
    if (archived === (page.archivedAt !== null)) return;
    const context = required(await loadLaunch(tx, { id: page.launchId }), "launch");
    if (archived) {
      const [use] = usesOfPage(context, page);
      if (use) throw new Refusal({ code: "page_in_use", use: use.says });
      Object.assign(page, { archivedAt: now, published: null, compiled: null, version: page.version + 1 });
    } else {
      if (page.kind === "checkout" && context.pages.some(({ kind }) => kind === "checkout"))
        throw new Refusal({ code: "in_use", by: "one_checkout" });
      page.archivedAt = null;
    }
    await tx.flush();
    await launchChanged(tx);
  });
};

/** Whether somebody ever saw a page: its figures are kept then. */
const wasSeen = async (em: EntityManager, { launchId, key, publishedAt }: Page): Promise<boolean> =>
  publishedAt !== null || (await em.findOne(PageRollup, { launchId, page: key }, { fields: ["personId"] })) !== null;

export interface ArchivedPage {
  id: string;
  title: string;
  slug: string;
  archivedAt: Date;
  /** Nobody ever saw it, so it may be deleted. */
  deletable: boolean;
}

/** The pages of a launch that were archived, by address. */
export const archivedPages = (em: EntityManager, { archived }: LaunchContext): Promise<ArchivedPage[]> =>
  Promise.all(
    archived.map(async (page) => ({
      id: page.id,
      title: headlineOf(page.draft),
      slug: page.slug,
      archivedAt: page.archivedAt!,
      deletable: !(await wasSeen(em, page)),
    })),
  );

/** Deletes an archived page that nobody ever saw, with its history, for good. */
export const deletePage = async (em: EntityManager, user: DeskUser, pageId: string): Promise<void> => {
  mustBeAllowed(user, "page.edit");
  await em.transactional(async (tx) => {
    const page = required(
      await tx.findOne(Page, { id: pageId, archivedAt: { $ne: null } }, { lockMode: LockMode.PESSIMISTIC_WRITE }),
      "archived_page",
    );
    if (await wasSeen(tx, page)) throw new Refusal({ code: "in_use", by: "page_seen" });
    await tx.nativeDelete(Page, { id: pageId });
    await launchChanged(tx);
  });
};
