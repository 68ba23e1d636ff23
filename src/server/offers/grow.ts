import { firstPage, neededToCharge } from "../../core/pages";
import { Page, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { found, Refusal } from "../app/refusal";
import { mustBeAllowed } from "../app/access";
import { launchChanged, loadBundle } from "../launch/bundle";
import { newPage } from "../pages/newPage";

const addresses = { sales: "sales", checkout: "checkout", thanks: "thank-you" } as const;

/**
 * Lets a launch that only collects addresses sell as well: a sales page, a checkout and a thank-you page, as drafts. Its
 * opt-in keeps its address and goes on as it is. Asked twice, it has them once.
 */
export const growToSell = async (em: EntityManager, user: DeskUser, slug: string): Promise<void> => {
  mustBeAllowed(user, "path.edit");
  await em.transactional(async (tx) => {
    await tx.execute("select 1 from launch where slug = ? for update", [slug]);
    const { launch, pages, product } = found(await loadBundle(tx, { slug }), "launch");
    for (const kind of neededToCharge) {
      if (pages.some((page) => page.kind === kind)) continue;
      const address = addresses[kind as keyof typeof addresses];
      if (await tx.findOne(Page, { launchId: launch.id, slug: address }))
        throw new Refusal(409, "address_taken", `Another page stands at /${address} already. Give it another address first; nothing was added.`);
      await tx.persist(newPage(tx, { launchId: launch.id, kind, key: kind, slug: address, draft: firstPage(kind, product.name) })).flush();
    }
    await launchChanged(tx);
  });
};
