import { look as lookSchema, type Look } from "../../core/pages";
import { Launch, Page, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed } from "../platform";
import { launchChanged, mustNotBeArchived } from "../launch";
import { recompile } from "./recompile";

/** Gives a launch its look: drafts follow at once, and so do its published pages, all in one step. Pages with a look of their own keep it. */
export const setLook = async (em: EntityManager, user: DeskUser, launchId: string, asked: Look, vendor: string): Promise<{ pages: number }> => {
  mustBeAllowed(user, "page.edit");
  const look = lookSchema.parse(asked);
  return em.transactional(async (tx) => {
    await tx.nativeUpdate(Launch, { id: launchId }, { look });
    // The row is in the unit of work already, with its old look.
    mustNotBeArchived(await tx.findOneOrFail(Launch, { id: launchId }, { refresh: true }));
    const pages = await tx.find(Page, { launchId, published: { $ne: null } });
    const following = pages.filter(({ published }) => !published!.look);
    await recompile(tx, following, vendor);
    await launchChanged(tx);
    return { pages: following.length };
  });
};
