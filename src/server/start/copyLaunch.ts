import type { BodyOf } from "../../contract/endpoint";
import type * as contract from "../../contract/launches";
import { randomUUID } from "node:crypto";
import { onNewDates, resolveWallTime, settingFaults, turnPersonal, type TurnRemark } from "../../core/launch";
import { copyEmails } from "../../store/emails/launchEmails";
import { Launch, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, wrongField } from "../platform";
import { type LaunchContext, newHookSecret, scheduleLaunch } from "../launch";
import { freeSlug } from "./createLaunch";
import { copiedPath, savePath } from "../offers";
import { newPage } from "../pages";

const remarkSentence = (remark: TurnRemark): string => {
  switch (remark.code) {
    case "prices_dropped":
      return `${remark.n} dated ${remark.n === 1 ? "price was" : "prices were"} left out: an always-on launch has no dates.`;
    case "featured_dropped":
      return `${remark.n} featured ${remark.n === 1 ? "day" : "days"} for partners ${remark.n === 1 ? "was" : "were"} left out: they have dates.`;
    case "live_dropped":
      return `${remark.n} live ${remark.n === 1 ? "session was" : "sessions were"} left out: they have dates. Their episodes stay.`;
    case "run_up_dropped":
      return "The run-up was left out: each person's clock starts with their opt-in.";
    case "opening_emails_dropped":
      return `${remark.n} ${remark.n === 1 ? "email" : "emails"} before the opening were left out: nobody is there before their own clock starts.`;
  }
};

/**
 * Copies a launch: its pages as drafts, its offer path, its products, and all its times, which keep their distances on
 * the wall. Nothing of the copy is public before it is published. Answers its address and what was left out.
 */
export const copyLaunch = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  request: BodyOf<typeof contract.copyLaunch>,
  now: Date,
): Promise<{ slug: string; remarks: string[] }> => {
  mustBeAllowed(user, "launch.edit");
  const { launch, source } = context;
  if (request.as === "dates" && launch.settings.clock.kind !== "personal" && !("instant" in resolveWallTime(request.opensWall, launch.zone)))
    throw wrongField("nothing_copied", "opensWall", { code: "moment" });
  const turned =
    request.as === "always_on"
      ? turnPersonal(launch.settings)
      : { settings: onNewDates(launch.settings, request.opensWall, launch.zone), remarks: [] };
  const wrong = Object.values(settingFaults({ ...source, settings: turned.settings }))[0];
  if (wrong) throw wrongField("nothing_copied", "opensWall", wrong);
  return em.transactional(async (tx) => {
    const copy = tx.create(Launch, {
      id: randomUUID(),
      slug: await freeSlug(tx, request.name),
      name: request.name,
      zone: launch.zone,
      shape: launch.shape,
      settings: turned.settings,
      look: launch.look,
      version: 1,
      hookSecret: newHookSecret(),
      mainProductId: launch.mainProductId,
      creditWindowDays: launch.creditWindowDays,
      recoveryDelayMinutes: launch.recoveryDelayMinutes,
      assumptions: launch.assumptions,
      createdAt: now,
    });
    await tx.persist(copy).flush();
    const pages = new Map(
      context.pages.map((page) => {
        const { id, kind, key, slug, draft } = page;
        return [id, newPage(tx, { launchId: copy.id, kind, key, slug, draft })] as const;
      }),
    );
    await tx.persist([...pages.values()]).flush();
    if (context.savedPath.version > 0) {
      const path = copiedPath(context.savedPath.path, new Map([...pages].map(([id, page]) => [id, page.id])));
      await savePath(tx, copy.id, path, { what: `Copied with ${launch.name}`, userId: user.id, now });
    }
    await copyEmails(tx, { from: launch.id, to: copy.id });
    await scheduleLaunch(tx, copy.id, now);
    return { slug: copy.slug, remarks: turned.remarks.map(remarkSentence) };
  });
};
