import { bellEmail, emailContent, emailGaps, type EmailContent, type EmailGap, type EmailKindName } from "../../core/emails";
import { clockTime, faultsOf } from "../../core/words";
import { mediaOf } from "../../core/pages";
import { publishEmailDraft, saveEmailDraft } from "../../store/emails/launchEmails";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { launchChanged, mustNotBeArchived, type LaunchContext } from "../launch";
import { mediaLookup } from "../pages";
import { type App, mustBeAllowed, Refusal, required, wrongFields } from "../platform";
import { kindOfKey, usualContent } from "./contents";
import { emailKinds } from "./kinds";

/** What an email on a bell says that nobody has written yet. */
export const newEmail: EmailContent = bellEmail("", "");

/** An email's words as they stand at the desk. */
export interface EmailDraft {
  kind: EmailKindName;
  /** Whether its reader can stop it, and is told so under it. */
  advertising: boolean;
  draft: EmailContent;
  /** As it is sent; null where nothing of the vendor's own is. */
  published: EmailContent | null;
  version: number;
}

/** What an email of a launch says, as a draft and as it is sent. Throws a refusal where the launch has no such email. */
export const emailDraft = (context: LaunchContext, key: string): EmailDraft => {
  const kind = required(kindOfKey(context, key), "email");
  const row = context.emails.get(key);
  const usual = usualContent(kind);
  return {
    kind,
    advertising: emailKinds[kind].advertising,
    draft: row?.draft ?? usual ?? newEmail,
    published: row?.published ?? usual ?? null,
    version: row?.version ?? 0,
  };
};

/** The wall times at which a launch opens and closes; none where everybody has a clock of their own. */
export const bellTimes = ({ plan }: Pick<LaunchContext, "plan">): string[] =>
  plan.clock.kind === "fixed" ? [plan.clock.window.opens, plan.clock.window.closes].map((at) => clockTime(at, plan.zone)) : [];

/** What an email lacks before it can go, and what may be untrue in it. */
export const gapsOfEmail = async (
  app: Pick<App, "config">,
  em: EntityManager,
  context: LaunchContext,
  kind: EmailKindName,
  content: EmailContent,
): Promise<EmailGap[]> => {
  const ids = mediaOf(content);
  const media = await mediaLookup(em, ids);
  return emailGaps(content, {
    kind,
    source: context.source,
    origin: app.config.origin,
    bells: bellTimes(context),
    media: ids.flatMap((id) => media(id) ?? []),
  });
};

/** Keeps the draft of an email as it is typed. One that somebody else saved meanwhile is not overwritten. */
export const saveEmail = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  key: string,
  content: unknown,
  version: number,
): Promise<{ version: number }> => {
  mustBeAllowed(user, "launch.edit");
  mustNotBeArchived(context.launch);
  required(kindOfKey(context, key), "email");
  const read = emailContent.safeParse(content);
  if (!read.success) throw wrongFields("last_version_kept", faultsOf(read.error));
  const saved = await em.transactional((tx) => saveEmailDraft(tx, context.launch.id, key, read.data, version));
  if (saved === undefined) throw new Refusal({ code: "changed_meanwhile", what: "email" });
  return { version: saved };
};

/** Makes the draft of an email what is sent from now on. Refuses one with a blocking gap. What has been sent stays as it was. */
export const publishEmail = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  key: string,
  version: number,
): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  mustNotBeArchived(context.launch);
  const { kind, draft } = emailDraft(context, key);
  const gap = (await gapsOfEmail(app, em, context, kind, draft)).find(({ blocking }) => blocking);
  if (gap) throw new Refusal({ code: "gap", says: gap.says, why: gap.why });
  await em.transactional(async (tx) => {
    if (!(await publishEmailDraft(tx, context.launch.id, key, version, app.clock.now())))
      throw new Refusal({ code: "changed_meanwhile", what: "published" });
    await launchChanged(tx);
  });
};
