import { lockLaunch } from "../../store/launch/lockLaunch";
import { randomUUID } from "node:crypto";
import { usualBellEmails } from "../../core/emails";
import { sellingSettings } from "../../core/launch";
import { writeEmails } from "../../store/emails/launchEmails";
import { firstPage, neededToCharge, withLinkTo } from "../../core/pages";
import { Page, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { Refusal, mustBeAllowed, required, wrongField } from "../platform";
import { changeSettings, launchChanged, loadLaunch, mustNotBeArchived } from "../launch";
import { keepVersion, newPage } from "../pages";
import type { SmallProduct } from "../../contract/products";
import { priceFirst } from "../products";

const addresses = { sales: "sales", checkout: "checkout", thanks: "thank-you" } as const;

/**
 * Lets a launch that only collects addresses sell as well: what it sells and for how much, a sales page, a checkout and a
 * thank-you page, as drafts; the countdown on them, emails of the bells, and a way to the sales page in the draft of its
 * opt-in. That keeps its address and goes on as it is. Asked twice, it has them once.
 */
export const addCheckout = async (em: EntityManager, user: DeskUser, slug: string, product: SmallProduct | undefined, now: Date): Promise<void> => {
  mustBeAllowed(user, "path.edit");
  await em.transactional(async (tx) => {
    await lockLaunch(tx, { slug });
    const context = required(await loadLaunch(tx, { slug }), "launch");
    mustNotBeArchived(context.launch);
    const { launch, pages } = context;
    const main = await tx.findOneOrFail(Product, { id: context.product.id });
    if (main.priceMinor === 0 && !main.onSale) {
      if (!product) throw wrongField("nothing_added", "name", { code: "product_name_missing" });
      await priceFirst(tx, main, product, now);
    }
    const missing = neededToCharge.filter((kind) => !pages.some((page) => page.kind === kind));
    for (const kind of missing) {
      const address = addresses[kind as keyof typeof addresses];
      if (await tx.findOne(Page, { launchId: launch.id, slug: address })) throw new Refusal({ code: "address_taken", address });
      await tx.persist(newPage(tx, { launchId: launch.id, kind, key: kind, slug: address, draft: firstPage(kind, main.name) })).flush();
    }
    await launchChanged(tx);
    if (missing.length === 0) return;
    const optIn = pages.find(({ kind }) => kind === "optin");
    if (optIn && missing.includes("sales")) {
      Object.assign(optIn, { draft: withLinkTo(optIn.draft, `See ${main.name}`, "sales", randomUUID), version: optIn.version + 1 });
      await tx.flush();
      await keepVersion(tx, optIn, user, now);
    }
    const hung = new Set(launch.settings.emails.map(({ id }) => id));
    const withCheckout = required(await loadLaunch(tx, { slug }), "launch");
    const settings = sellingSettings(launch.settings);
    await writeEmails(tx, launch.id, usualBellEmails(settings.emails.map(({ id }) => id).filter((id) => !hung.has(id))), now);
    await changeSettings(tx, user, withCheckout, { settings, version: launch.version, what: "Checkout added" }, now);
  });
};
