import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/pages";
import { randomUUID } from "node:crypto";
import { z } from "zod";
import { pageContent, pageNames, templateOf, withNewIds, type PageContent, type Purpose } from "../../core/pages";
import { distinctNames } from "../../core/figures";
import { Page, PageTemplate, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required } from "../platform";

const shortId = () => randomUUID().slice(0, 8);

/** Keeps a page's draft as a template of the vendor's own. Later changes of the page do not change it. */
export const keepTemplate = async (
  em: EntityManager,
  user: DeskUser,
  request: BodyOf<typeof contract.keepTemplate>,
  now: Date,
): Promise<PageTemplate> => {
  mustBeAllowed(user, "page.edit");
  const page = required(await em.findOne(Page, { id: request.page }), "page");
  const { name, purpose } = request;
  const kept = em.create(PageTemplate, { id: randomUUID(), name, purpose, kind: page.kind, content: page.draft, createdAt: now, userId: user.id });
  await em.persist(kept).flush();
  return kept;
};

/** Throws one of the vendor's own templates away; pages made from it stay. */
export const dropTemplate = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {
  mustBeAllowed(user, "page.edit");
  await em.nativeDelete(PageTemplate, { id });
};

export interface OwnTemplate {
  id: string;
  name: string;
  kind: Page["kind"];
  purpose: Purpose;
  content: PageContent;
}

/** The vendor's own templates, by name, and of one name the oldest first. */
export const ownTemplates = async (em: EntityManager): Promise<OwnTemplate[]> =>
  distinctNames(
    (await em.find(PageTemplate, {}, { orderBy: { name: 1, createdAt: 1 } })).map(({ id, name, kind, purpose, content }) => ({
      id,
      name,
      kind,
      purpose,
      content,
    })),
    ({ kind }) => pageNames[kind].toLowerCase(),
  );

/** The page that a template makes, ready-made or the vendor's own, with ids of its own. Undefined where there is none of that name. */
export const fromTemplate = async (
  em: EntityManager,
  template: string,
  product: string,
): Promise<{ kind: Page["kind"]; content: PageContent } | undefined> => {
  const ready = templateOf(template);
  if (ready) return { kind: ready.kind, content: withNewIds(ready.make(product), shortId) };
  const own = z.uuid().safeParse(template).success ? await em.findOne(PageTemplate, { id: template }) : null;
  return own ? { kind: own.kind, content: pageContent.parse(withNewIds(own.content, shortId)) } : undefined;
};
