import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/pages";
import { randomUUID } from "node:crypto";
import type { PageKind } from "../../core/launch";
import { withHeadline, withNewIds, type PageContent } from "../../core/pages";
import { Page, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required, wrongField } from "../platform";
import { launchChanged, type LaunchContext, loadLaunch } from "../launch";
import { fromTemplate } from "./templates";

/** A page as it begins: a draft that nobody sees. Not written yet. */
export const newPage = (em: EntityManager, page: Pick<Page, "launchId" | "kind" | "key" | "slug" | "draft"> & { variantOf?: string }): Page =>
  em.create(Page, { ...page, id: randomUUID(), published: null, compiled: null, publishedAt: null, version: 1 });

/** One order form is all a launch can have; of every other kind there may be several. */
const single: PageKind[] = ["checkout"];

/** Refuses a page whose address is taken, or a second order form. */
export const mayAdd = (context: LaunchContext, slug: string, kind: PageKind): void => {
  if (context.pages.some((page) => page.slug === slug || page.key === slug)) throw wrongField("nothing_added", "address", { code: "address_in_use" });
  if (context.archived.some((page) => page.slug === slug || page.key === slug))
    throw wrongField("nothing_added", "address", { code: "address_archived" });
  if (single.includes(kind) && context.pages.some((page) => page.kind === kind))
    throw wrongField("nothing_added", "template", { code: "one_checkout" });
};

const create = async (em: EntityManager, context: LaunchContext, slug: string, kind: PageKind, draft: PageContent): Promise<Page> =>
  em.transactional(async (tx) => {
    const page = newPage(tx, { launchId: context.launch.id, kind, key: slug, slug, draft });
    await tx.persist(page).flush();
    await launchChanged(tx);
    return page;
  });

/** Adds a page to a launch, as a draft, from a template. Its address names it. */
export const addPage = async (em: EntityManager, user: DeskUser, context: LaunchContext, request: BodyOf<typeof contract.addPage>): Promise<Page> => {
  mustBeAllowed(user, "page.edit");
  const made = await fromTemplate(em, request.template, context.product.name);
  if (!made) throw wrongField("nothing_added", "template", { code: "no_such_template" });
  mayAdd(context, request.address, made.kind);
  const draft = request.headline ? withHeadline(made.content, request.headline) : made.content;
  const like = context.pages.find(({ key }) => key === request.lookFrom);
  return create(em, context, request.address, made.kind, { ...draft, look: like?.draft.look ?? draft.look });
};

/** Copies a page's draft into a launch, its own or another. Where that launch looks different the copy keeps the look it had. */
export const copyPage = async (
  em: EntityManager,
  user: DeskUser,
  pageId: string,
  request: BodyOf<typeof contract.copyPage>,
): Promise<{ page: Page; slug: string }> => {
  mustBeAllowed(user, "page.edit");
  const from = required(await em.findOne(Page, { id: pageId }), "page");
  const source = required(await loadLaunch(em, { id: from.launchId }), "launch");
  const context = required(await loadLaunch(em, { slug: request.launch }), "launch");
  mayAdd(context, request.address, from.kind);
  const same = JSON.stringify(source.launch.look) === JSON.stringify(context.launch.look);
  const draft = withNewIds(from.draft, () => randomUUID().slice(0, 8));
  const page = await create(em, context, request.address, from.kind, { ...draft, look: draft.look ?? (same ? null : source.launch.look) });
  return { page, slug: context.launch.slug };
};
