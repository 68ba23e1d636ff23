import { rendering } from "../../public/compile";
import { Launch, Page } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { launchChanged } from "../launch";
import { compileFor } from "./compileFor";

/** Compiles published pages anew, as they were published. Answers how many. */
export const recompile = async (tx: EntityManager, pages: Page[], vendor: string): Promise<number> => {
  for (const page of pages) {
    const launch = await tx.findOneOrFail(Launch, { id: page.launchId });
    page.compiled = await compileFor(tx, launch, page, page.published!, vendor);
  }
  await tx.flush();
  if (pages.length > 0) await launchChanged(tx);
  return pages.length;
};

/** Compiles published pages anew that another version of the program wrote: their style would not be let through today. */
export const recompilePublished = async (em: EntityManager, vendor: string): Promise<number> =>
  em.transactional(async (tx) => {
    const pages = await tx.find(Page, { published: { $ne: null } });
    return recompile(
      tx,
      pages.filter(({ compiled }) => compiled?.made !== rendering),
      vendor,
    );
  });
