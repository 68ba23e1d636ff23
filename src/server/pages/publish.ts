import { faultsOf } from "../../core/words";
import { lockLaunch } from "../../store/launch/lockLaunch";
import { LockMode } from "@mikro-orm/core";
import { randomUUID } from "node:crypto";
import { changesBetween, pageContent, pageGaps, withoutVariant, type PageContent, type PageGap } from "../../core/pages";
import { Launch, Page, PageVersion, DeskUser } from "../../store/tables";
import { bumpProducts } from "../products";
import type { EntityManager } from "../../store/orm";
import { Refusal, mustBeAllowed, required, wrongFields } from "../platform";
import { launchChanged, type LaunchContext, loadLaunch, mustNotBeArchived } from "../launch";
import { compileFor } from "./compileFor";

/** Saves within this time by the same person are one version: the history is to be read, not counted. */
const oneVersionMs = 60_000;

const checked = (content: unknown): PageContent => {
  const read = pageContent.safeParse(content);
  if (read.success) return read.data;
  throw wrongFields("last_version_kept", faultsOf(read.error));
};

/** Keeps a state of a page. */
export const keepVersion = async (tx: EntityManager, page: Page, user: Pick<DeskUser, "id">, now: Date): Promise<void> => {
  const [latest] = await tx.find(PageVersion, { pageId: page.id }, { orderBy: { version: -1 }, limit: 1 });
  if (latest?.version === page.version) return;
  if (latest && !latest.published && latest.userId === user.id && now.getTime() - latest.at.getTime() < oneVersionMs) {
    Object.assign(latest, { content: page.draft, version: page.version });
  } else {
    const made = { id: randomUUID(), pageId: page.id, version: page.version, content: page.draft, at: now, userId: user.id, published: false };
    tx.persist(tx.create(PageVersion, made));
  }
  await tx.flush();
};

/** Saves a page's draft. `version` is the one the editor started from: a newer one means that somebody else saved, and nothing is overwritten. */
export const saveDraft = async (em: EntityManager, user: DeskUser, pageId: string, content: unknown, version: number, now: Date): Promise<Page> => {
  mustBeAllowed(user, "page.edit");
  const draft = checked(content);
  return em.transactional(async (tx) => {
    // Whoever saves the same page meanwhile waits here, and then meets a newer version.
    const page = required(await tx.findOne(Page, { id: pageId, archivedAt: null }, { lockMode: LockMode.PESSIMISTIC_WRITE }), "page");
    if (page.version !== version) throw new Refusal({ code: "changed_meanwhile", what: "page" });
    if (!(await tx.findOne(PageVersion, { pageId }))) {
      // What a page began with is a version too.
      tx.persist(
        tx.create(PageVersion, { id: randomUUID(), pageId, version, content: page.draft, at: now, userId: null, published: page.published !== null }),
      );
      await tx.flush();
    }
    Object.assign(page, { draft, version: version + 1 });
    await tx.flush();
    await keepVersion(tx, page, user, now);
    return page;
  });
};

/** What a page of a launch lacks. */
export const gapsOf = (context: LaunchContext, page: Pick<Page, "key" | "kind">, content: PageContent, { launches, products }: Around): PageGap[] =>
  pageGaps(content, { key: withoutVariant(page.key), kind: page.kind, source: context.source, launches, products });

/** What lies around a page: launches that a button may lead to, by their addresses, and products that a bump may add. */
interface Around {
  launches: string[];
  products: string[];
}
export const aroundPage = async (em: EntityManager, context: LaunchContext): Promise<Around> => ({
  launches: (await em.find(Launch, {}, { fields: ["slug"] })).map(({ slug }) => slug),
  products: (await bumpProducts(em, context)).map(({ id }) => id),
});

/** Makes the draft what the public sees, where it is still the `version` that was looked at. Refuses a page with a blocking gap. People on the page, and checkouts under way, go on undisturbed. */
export const publishPage = async (em: EntityManager, user: DeskUser, pageId: string, vendor: string, now: Date, version?: number): Promise<Page> => {
  mustBeAllowed(user, "page.publish");
  return em.transactional(async (tx) => {
    const { launchId } = required(await tx.findOne(Page, { id: pageId }), "page");
    await lockLaunch(tx, { id: launchId });
    return publishIn(tx, user, launchId, pageId, vendor, now, version);
  });
};

/** Publishes several pages as they were looked at, all of them or none. Answers how many. */
export const publishPages = async (
  em: EntityManager,
  user: DeskUser,
  slug: string,
  asked: readonly { id: string; version: number }[],
  vendor: string,
  now: Date,
): Promise<number> => {
  mustBeAllowed(user, "page.publish");
  return em.transactional(async (tx) => {
    const { id: launchId } = required(await tx.findOne(Launch, { slug }), "launch");
    await lockLaunch(tx, { id: launchId });
    for (const { id, version } of asked) await publishIn(tx, user, launchId, id, vendor, now, version);
    return asked.length;
  });
};

/** Publishes a page of a launch that is locked. */
const publishIn = async (
  tx: EntityManager,
  user: Pick<DeskUser, "id">,
  launchId: string,
  pageId: string,
  vendor: string,
  now: Date,
  version: number | undefined,
): Promise<Page> => {
  const page = required(await tx.findOne(Page, { id: pageId, launchId, archivedAt: null }), "page");
  const context = required(await loadLaunch(tx, { id: launchId }), "launch");
  mustNotBeArchived(context.launch);
  if (version !== undefined && version !== page.version) throw new Refusal({ code: "changed_meanwhile", what: "published" });
  if (page.kind === "offer" && !context.steps.some(({ pageId }) => pageId === (page.variantOf ?? page.id))) throw new Refusal({ code: "no_step" });
  const gap = gapsOf(context, page, page.draft, await aroundPage(tx, context)).find(({ blocking }) => blocking);
  if (gap) throw new Refusal({ code: "gap", says: gap.says, why: gap.why });
  page.published = page.draft;
  page.compiled = await compileFor(tx, context.launch, page, page.draft, vendor);
  page.publishedAt = now;
  await tx.flush();
  await keepVersion(tx, page, user, now);
  await tx.nativeUpdate(PageVersion, { pageId: page.id, version: page.version }, { published: true });
  await launchChanged(tx);
  return page;
};

/** Brings an earlier state back as the draft. The state it replaces stays in the history. */
export const restoreVersion = async (em: EntityManager, user: DeskUser, pageId: string, version: number, from: number, now: Date): Promise<Page> => {
  mustBeAllowed(user, "page.edit");
  const kept = required(await em.findOne(PageVersion, { pageId, version }), "version");
  return saveDraft(em, user, pageId, kept.content, from, now);
};

export interface VersionLine {
  version: number;
  at: string;
  by: string;
  published: boolean;
  /** What it changed against the one before, in a few words. */
  says: string;
}

/** The history of a page, the latest first. */
export const versionsOf = async (em: EntityManager, pageId: string): Promise<VersionLine[]> => {
  const versions = await em.find(PageVersion, { pageId }, { orderBy: { version: -1 }, limit: 101 });
  const people = new Map((await em.find(DeskUser, {}, { fields: ["name"] })).map(({ id, name }) => [id, name]));
  return versions.slice(0, 100).map((one, index) => {
    const before = versions[index + 1];
    const changes = before ? changesBetween(before.content, one.content) : [];
    const says = !before
      ? "the first kept"
      : changes.length === 0
        ? "nothing"
        : changes
            .slice(0, 3)
            .map(({ what, name }) => `${name.toLowerCase()} ${what}`)
            .join(", ");
    return {
      version: one.version,
      at: one.at.toISOString(),
      by: (one.userId && people.get(one.userId)) ?? "the program",
      published: one.published,
      says: changes.length > 3 ? `${says} and ${changes.length - 3} more` : says,
    };
  });
};
