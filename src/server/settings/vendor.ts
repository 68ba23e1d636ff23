import { notify } from "../../store/platform/notify";
import { lockName } from "../../store/platform/locks";
import type { VendorRequest } from "../../core/settings";
import { Page, Vendor, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, mustBeAllowed, Refusal } from "../platform";
import { recompile } from "../pages";

/** Tells every process that the vendor is another from the commit on. */
export const vendorChanged = (tx: EntityManager): Promise<void> => notify(tx, "vendor_changed");

/** The version of the vendor's details; none before they were first saved. */
export const vendorVersion = async (em: EntityManager): Promise<number> => (await em.findOne(Vendor, { singleton: true }))?.version ?? 0;

/** Saves the vendor's details. Pages that are published say the new name at once; orders keep what was said at their time. */
export const changeVendor = async (app: App, em: EntityManager, user: DeskUser, request: VendorRequest): Promise<{ version: number }> => {
  mustBeAllowed(user, "vendor.edit");
  const { version, ...details } = request;
  const saved = await em.transactional(async (tx) => {
    await lockName(tx, "vendor");
    const row = await tx.findOne(Vendor, { singleton: true });
    if ((row?.version ?? 0) !== version) throw new Refusal({ code: "changed_meanwhile", what: "vendor" });
    const before = row?.name ?? app.vendor.name;
    const next = row ? Object.assign(row, details) : tx.create(Vendor, { singleton: true, ...details });
    await tx.persist(next).flush();
    if (before !== details.name) await recompile(tx, await tx.find(Page, { published: { $ne: null } }), details.name);
    await vendorChanged(tx);
    return next.version;
  });
  await app.refreshVendor();
  return { version: saved };
};
