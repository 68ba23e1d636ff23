import { createHash, randomBytes, randomUUID } from "node:crypto";
import type { z } from "zod";
import { linkHolds, type firstOwnerRequest } from "../../core/settings";
import { DeskUser, Vendor, WayIn } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, beginSession, hashPassword, Refusal } from "../platform";
import { usualLocale } from "../../core/money";
import { vendorChanged } from "./vendor";

const hashOf = (token: string): string => createHash("sha256").update(token).digest("hex");

/**
 * A way in for the first owner of an installation that has none: a token that holds for a day, in place of any before.
 * Undefined where somebody can sign in.
 */
export const openWayIn = async (em: EntityManager, now: Date): Promise<string | undefined> => {
  if ((await em.count(DeskUser, { endedAt: null })) > 0) return undefined;
  const token = randomBytes(24).toString("base64url");
  await em.upsert(WayIn, { singleton: true, hash: hashOf(token), expiresAt: new Date(now.getTime() + linkHolds.wayIn * 86_400_000) });
  return token;
};

const over = (): Refusal => new Refusal({ code: "link_over", to: "first_owner" });

/** Refuses a way in that is over, was used, or was never there. */
export const mustBeWayIn = async (em: EntityManager, token: string | null, now: Date): Promise<void> => {
  const open = token ? await em.count(WayIn, { hash: hashOf(token), expiresAt: { $gt: now } }) : 0;
  if (open === 0 || (await em.count(DeskUser, { endedAt: null })) > 0) throw over();
};

/** Makes the first owner and the vendor's row, once. Answers the token of their session. */
export const makeFirstOwner = async (
  app: App,
  token: string | null,
  { vendor, country, name, email, password }: z.infer<typeof firstOwnerRequest>,
  agent: string,
): Promise<string> => {
  const passwordHash = await hashPassword(password);
  const now = app.clock.now();
  const session = await app.fork().transactional(async (tx) => {
    await mustBeWayIn(tx, token, now);
    // Of two presses at once one finds the row gone.
    const taken = await tx.nativeDelete(WayIn, { hash: hashOf(token!) });
    if (taken === 0) throw over();
    const id = randomUUID();
    // Somebody whose membership ended long ago may have had this address.
    const known = await tx.findOne(DeskUser, { email });
    const member = { name, passwordHash, role: "owner" as const, endedAt: null };
    if (known) await tx.nativeUpdate(DeskUser, { id: known.id }, member);
    else await tx.insert(DeskUser, { id, email, ...member });
    if (!(await tx.findOne(Vendor, { singleton: true })))
      await tx.insert(Vendor, {
        singleton: true,
        name: vendor,
        postalAddress: "",
        country,
        taxNumbers: [],
        senderName: vendor,
        senderEmail: app.vendor.sender.email || email,
        locale: usualLocale,
      });
    await vendorChanged(tx);
    return beginSession(tx, "desk", known?.id ?? id, now, agent);
  });
  await app.refreshVendor();
  return session;
};
