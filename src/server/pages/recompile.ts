import { broadsideCss } from "../../public/broadside";
import { compilePage } from "../../public/compile";
import { Launch, Page } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { launchChanged } from "../launch/bundle";

/**
 * Compiles published pages anew whose theme is not today's: after an upgrade their style would not be let through by
 * the pages' policy. Their words stay as they were published. Answers how many were compiled.
 */
export const recompilePublished = async (em: EntityManager, vendor: string): Promise<number> =>
  em.transactional(async (tx) => {
    const pages = await tx.find(Page, { published: { $ne: null } });
    const old = pages.filter(({ compiled }) => !compiled?.parts[0]?.includes(broadsideCss));
    for (const page of old) {
      const launch = await tx.findOneOrFail(Launch, { id: page.launchId });
      page.compiled = compilePage({ kind: page.kind, content: page.published!, launch, vendor });
    }
    await tx.flush();
    if (old.length > 0) await launchChanged(tx);
    return old.length;
  });
