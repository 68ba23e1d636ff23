import { z } from "zod";
import { noteLeft } from "../../store/emails/clicks";
import { contactById } from "../../store/people/persons";
import { endOptOut, optOut, optOutOf } from "../../store/people/optOuts";
import { Contact, Launch } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { unsubscribe } from "./optIn";

/** Which emails somebody wants, by the page that every email links to. */
export interface Preferences {
  /** All that come, one a week at most, or none. */
  emails: "all" | "fewer" | "none";
  /** The launch whose email they came from, and whether they want no more of it. */
  launch?: { name: string; left: boolean };
}

/** What the page sends. A mail program's one-click button sends no choice, and means none (RFC 8058). */
export const preferencesForm = z.object({ emails: z.enum(["all", "fewer", "none"]).catch("none"), leave: z.string().optional() });

const launchOf = (em: EntityManager, slug: string | null) => (slug === null ? null : em.findOne(Launch, { slug }, { fields: ["id", "name"] }));

/** What a contact wants now; undefined where there is no such contact any more. */
export const preferencesOf = async (em: EntityManager, contactId: string, slug: string | null): Promise<Preferences | undefined> => {
  const contact = await contactById(em, contactId);
  if (!contact) return undefined;
  const launch = await launchOf(em, slug);
  return {
    emails: contact.unsubscribedAt ? "none" : contact.fewerSince ? "fewer" : "all",
    ...(launch && { launch: { name: launch.name, left: (await optOutOf(em, contact.id, launch.id)) !== undefined } }),
  };
};

/**
 * Sets what a contact wants. Whoever has unsubscribed from everything stays so: only a form that asks for their consent begins again. A launch that the desk
 * or a rule has stopped stays stopped unless the reader asks for it here.
 */
export const changePreferences = async (
  em: EntityManager,
  contactId: string,
  /** The launch, and the very email, whose link was followed. */
  { slug, email }: { slug: string | null; email: string | null },
  { emails, leave }: z.output<typeof preferencesForm>,
  now: Date,
): Promise<void> => {
  await em.transactional(async (tx) => {
    const contact = await contactById(tx, contactId);
    if (contact && z.uuid().safeParse(email).success && (emails === "none" || leave)) await noteLeft(tx, email!, contact.id, now);
    if (emails === "none") return unsubscribe(tx, contactId, now);
    if (!contact || contact.unsubscribedAt) return;
    await tx.nativeUpdate(Contact, { id: contact.id }, { fewerSince: emails === "fewer" ? (contact.fewerSince ?? now) : null });
    const launch = await launchOf(tx, slug);
    if (!launch) return;
    if (leave) await optOut(tx, contact.id, launch.id, "reader", now);
    else await endOptOut(tx, contact.id, launch.id);
  });
};
