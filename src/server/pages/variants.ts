import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/pages";
import { variantNames, variantName } from "../../core/pages";
import { Launch, Page, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { Refusal, mustBeAllowed, required, wrongField } from "../platform";
import { launchChanged } from "../launch";
import { compileFor } from "./compileFor";
import { newPage } from "./addPage";
import { keepVersion } from "./publish";

/** Makes another version of a page to test beside it, as a draft that begins as the page stands. Nobody sees it before it is published. */
export const addVariant = async (em: EntityManager, user: DeskUser, pageId: string): Promise<Page> => {
  mustBeAllowed(user, "page.edit");
  return em.transactional(async (tx) => {
    const page = required(await tx.findOne(Page, { id: pageId, variantOf: null }), "page");
    if (page.kind === "checkout" || page.kind === "offer" || page.kind === "thanks") throw new Refusal({ code: "one_version" });
    const others = (await tx.find(Page, { variantOf: pageId })).map(variantName);
    const name = variantNames.find((one) => one !== "A" && !others.includes(one));
    if (!name) throw new Refusal({ code: "enough_variants" });
    const ending = `~${name.toLowerCase()}`;
    const { launchId, kind, draft } = page;
    const variant = newPage(tx, { launchId, kind, key: page.key + ending, slug: page.slug + ending, draft, variantOf: pageId });
    await tx.persist(variant).flush();
    await launchChanged(tx);
    return variant;
  });
};

/** Sets the shares of a page's versions. Who has seen one goes on seeing it. */
export const setWeights = async (
  em: EntityManager,
  user: DeskUser,
  pageId: string,
  { weights }: BodyOf<typeof contract.setWeights>,
): Promise<void> => {
  mustBeAllowed(user, "page.edit");
  await em.transactional(async (tx) => {
    const rows = await tx.find(Page, { $or: [{ id: pageId }, { variantOf: pageId }] });
    for (const row of rows) row.weight = weights[row.id] ?? row.weight;
    if (rows.every(({ weight }) => weight === 0)) throw wrongField("nothing_changed", pageId, { code: "shares_zero" });
    await tx.flush();
    await launchChanged(tx);
  });
};

/** Ends a test: the chosen version becomes the page, and the others go. The page as it was stays in its history. */
export const makeWinner = async (em: EntityManager, user: DeskUser, chosenId: string, vendor: string, now: Date): Promise<Page> => {
  mustBeAllowed(user, "page.edit");
  return em.transactional(async (tx) => {
    const chosen = required(await tx.findOne(Page, { id: chosenId }), "version");
    const page = chosen.variantOf ? required(await tx.findOne(Page, { id: chosen.variantOf }), "page") : chosen;
    if (chosen !== page) {
      if (!chosen.published) throw new Refusal({ code: "never_published" });
      await keepVersion(tx, page, user, now);
      const launch = await tx.findOneOrFail(Launch, { id: page.launchId });
      const compiled = await compileFor(tx, launch, page, chosen.published, vendor);
      Object.assign(page, { draft: chosen.published, published: chosen.published, compiled, publishedAt: now, version: page.version + 1 });
      await tx.flush();
      await keepVersion(tx, page, user, now);
    }
    page.weight = 1;
    await tx.flush();
    await tx.nativeDelete(Page, { variantOf: page.id });
    await launchChanged(tx);
    return page;
  });
};

/** Takes a version out of the test. Who saw it sees another from now on. */
export const dropVariant = async (em: EntityManager, user: DeskUser, variantId: string): Promise<void> => {
  mustBeAllowed(user, "page.edit");
  const gone = await em.nativeDelete(Page, { id: variantId, variantOf: { $ne: null } });
  if (gone === 0) throw new Refusal({ code: "not_found", what: "version" });
  await launchChanged(em);
};
