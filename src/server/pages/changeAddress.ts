import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/pages";
import { Page, PageAddress, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required, wrongField } from "../platform";
import { launchChanged } from "../launch";

/** Gives a page another address. The old one leads on to it from then on, for links that are out already. */
export const changeAddress = async (
  em: EntityManager,
  user: DeskUser,
  pageId: string,
  { address }: BodyOf<typeof contract.changeAddress>,
  now: Date,
): Promise<Page> => {
  mustBeAllowed(user, "page.edit");
  return em.transactional(async (tx) => {
    const page = required(await tx.findOne(Page, { id: pageId, variantOf: null }), "page");
    if (page.slug === address) return page;
    if (page.slug === "") throw wrongField("nothing_changed", "address", { code: "own_address" });
    const { launchId } = page;
    if (await tx.findOne(Page, { launchId, slug: address })) throw wrongField("nothing_changed", "address", { code: "address_in_use" });
    await tx.nativeDelete(PageAddress, { launchId, slug: { $in: [address, page.slug] } });
    tx.persist(tx.create(PageAddress, { launchId, slug: page.slug, pageId, leftAt: now }));
    for (const variant of await tx.find(Page, { variantOf: pageId })) variant.slug = address + variant.slug.slice(page.slug.length);
    page.slug = address;
    await tx.flush();
    await launchChanged(tx);
    return page;
  });
};
