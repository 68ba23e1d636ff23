import { randomUUID } from "node:crypto";
import { z } from "zod";
import { parseAmount } from "../../core/money";
import { pathEnd, pathGaps } from "../../core/offers";
import { Page, PathStep, Product, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { found, Refusal } from "../app/refusal";
import { mustWrite } from "../app/session";
import { launchChanged, loadBundle } from "../launch/bundle";

export const offerRequest = z.object({
  name: z.string().trim().min(1, "Name what is offered, as the buyer will read it.").max(120, "120 characters at most."),
  price: z.string(),
});

/** Says what an offer page offers and at which price, in the currency and tax mode of the launch's main product. Yes and no both lead to the thank-you page. */
export const setOffer = async (em: EntityManager, user: DeskUser, pageId: string, request: z.infer<typeof offerRequest>): Promise<void> => {
  mustWrite(user);
  await em.transactional(async (tx) => {
    const page = found(await tx.findOne(Page, { id: pageId, kind: "offer" }), "offer page");
    const bundle = found(await loadBundle(tx, { id: page.launchId }), "launch");
    const { currency, taxMode, refundDays } = bundle.product;
    const priceMinor = parseAmount(request.price, currency);
    if (!priceMinor) throw new Refusal(422, "fields", "The offer was not changed.", { price: "Give an amount above zero, such as 67.00." });
    const step = bundle.steps.find((other) => other.pageId === pageId);
    if (step) {
      await tx.nativeUpdate(Product, { id: step.productId }, { name: request.name, priceMinor });
    } else {
      const product = tx.create(Product, {
        id: randomUUID(),
        name: request.name,
        privateLabel: "One-time offer",
        taxClass: "standard",
        refundDays,
        description: "",
        priceMinor,
        currency,
        taxMode,
      });
      await tx.persist(product).flush();
      const made = {
        id: randomUUID(),
        launchId: page.launchId,
        pageId,
        productId: product.id,
        position: bundle.steps.length + 1,
        yesTo: pathEnd,
        noTo: pathEnd,
      };
      // One more offer stands on the no rail of the last: who says no there sees it next.
      const last = bundle.steps.at(-1);
      if (last && last.noTo === pathEnd) await tx.nativeUpdate(PathStep, { id: last.id }, { noTo: made.id });
      const gaps = pathGaps({ first: made.id, steps: [{ id: made.id, productId: product.id, pageSlug: page.slug, yesTo: pathEnd, noTo: pathEnd }] });
      if (gaps.length > 0) throw new Refusal(409, gaps[0]!.code, "The offer path would not end on a thank-you page.");
      await tx.persist(tx.create(PathStep, made)).flush();
    }
    await launchChanged(tx);
  });
};
