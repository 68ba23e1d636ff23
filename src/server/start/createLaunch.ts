import { deskLocale, mustBeAllowed, wrongFields } from "../platform";
import { randomUUID } from "node:crypto";
import { usualBellEmails } from "../../core/emails";
import { planNewLaunch, slugOf, type NewLaunchRequest } from "../../core/launch";
import { alwaysOnOptIn, episodePage, firstPage, standardLook } from "../../core/pages";
import { writeEmails } from "../../store/emails/launchEmails";
import { Launch, Product, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { noteAsked } from "../products";
import { newPage } from "../pages";
import { newHookSecret, scheduleLaunch } from "../launch";

/** An address for a launch of this name that no other has. */
export const freeSlug = async (em: EntityManager, name: string): Promise<string> => {
  const wanted = slugOf(name) || "launch";
  const taken = new Set((await em.find(Launch, { slug: { $like: `${wanted}%` } })).map(({ slug }) => slug));
  if (!taken.has(wanted)) return wanted;
  let n = 2;
  while (taken.has(`${wanted}-${n}`)) n += 1;
  return `${wanted}-${n}`;
};

/** Starts a launch with its main product, its bells, and the ready pages, all unpublished. Refuses field by field. Answers with what DST bends. */
export const createLaunch = async (
  em: EntityManager,
  user: DeskUser,
  request: NewLaunchRequest,
  now: Date,
): Promise<{ launch: Launch; remarks: string[] }> => {
  mustBeAllowed(user, "launch.edit");
  const planned = planNewLaunch(request, await deskLocale(em));
  if ("faults" in planned) throw wrongFields("nothing_saved", planned.faults);
  const { settings, pages, priceMinor, remarks } = planned.plan;
  return em.transactional(async (tx) => {
    const product = tx.create(Product, {
      id: randomUUID(),
      name: request.productName || request.name,
      privateLabel: request.shape === "list" ? "Not sold yet" : request.productName,
      onSale: request.shape !== "list",
      taxClass: "standard",
      refundDays: 30,
      description: "",
      priceMinor,
      currency: request.currency,
      taxMode: request.taxMode,
    });
    const launch = tx.create(Launch, {
      id: randomUUID(),
      slug: await freeSlug(tx, request.name),
      name: request.name,
      zone: request.zone,
      shape: request.shape,
      settings,
      look: standardLook,
      version: 1,
      hookSecret: newHookSecret(),
      mainProductId: product.id,
      creditWindowDays: 60,
      recoveryDelayMinutes: 30,
      createdAt: now,
    });
    await tx.persist([product]).flush();
    // Where nothing is sold yet, no price was asked.
    if (priceMinor > 0) await noteAsked(tx, product, now);
    await tx.persist([launch]).flush();
    for (const { key, kind, slug, episode } of pages) {
      const draft = episode
        ? episodePage(product.name, episode)
        : kind === "optin" && settings.clock.kind === "personal"
          ? alwaysOnOptIn(product.name)
          : firstPage(kind, product.name);
      tx.persist(newPage(tx, { launchId: launch.id, kind, key, slug, draft }));
    }
    await tx.flush();
    await writeEmails(tx, launch.id, usualBellEmails(settings.emails.map(({ id }) => id)), now);
    await scheduleLaunch(tx, launch.id, now);
    return { launch, remarks };
  });
};
