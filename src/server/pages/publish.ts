import { pageContent, type PageContent } from "../../core/pages";
import { compilePage } from "../../public/compile";
import { Launch, Page, PathStep, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { found, Refusal } from "../app/refusal";
import { mustWrite } from "../app/session";
import { launchChanged } from "../launch/bundle";

const checked = (content: unknown): PageContent => {
  const read = pageContent.safeParse(content);
  if (read.success) return read.data;
  const fields = Object.fromEntries(read.error.issues.map((issue) => [issue.path.join("."), issue.message]));
  throw new Refusal(422, "fields", "Some fields need another look. The last good version is kept.", fields);
};

/** Saves a page's draft. `version` is the one the editor started from: a newer one means that somebody else saved, and nothing is overwritten. */
export const saveDraft = async (em: EntityManager, user: DeskUser, pageId: string, content: unknown, version: number): Promise<Page> => {
  mustWrite(user);
  const draft = checked(content);
  const changed = await em.nativeUpdate(Page, { id: pageId, version }, { draft, version: version + 1 });
  const page = found(await em.findOne(Page, { id: pageId }, { refresh: true }), "page");
  if (changed === 0)
    throw new Refusal(
      409,
      "changed_meanwhile",
      "Somebody else saved this page since you opened it. Reload to see their words; yours are still in the fields.",
    );
  return page;
};

/** Makes the draft what the public sees. */
export const publishPage = async (em: EntityManager, user: DeskUser, pageId: string, vendor: string, now: Date): Promise<Page> => {
  mustWrite(user);
  return em.transactional(async (tx) => {
    const page = found(await tx.findOne(Page, { id: pageId }), "page");
    const launch = await tx.findOneOrFail(Launch, { id: page.launchId });
    if (page.kind === "offer" && !(await tx.findOne(PathStep, { pageId: page.id }))) {
      throw new Refusal(409, "no_product", "Say what this page offers, and at which price, before it is published.");
    }
    page.published = page.draft;
    page.compiled = compilePage({ kind: page.kind, content: page.draft, launch, vendor });
    page.publishedAt = now;
    await tx.flush();
    await launchChanged(tx);
    return page;
  });
};
