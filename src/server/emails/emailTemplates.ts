import { randomUUID } from "node:crypto";
import type { EmailContent } from "../../core/emails";
import { EmailTemplate, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { LaunchContext } from "../launch";
import { mustBeAllowed, required, wrongField } from "../platform";
import { emailDraft } from "./draftEmail";

/** The emails that are kept as templates, in the order of their names. */
export const listEmailTemplates = async (em: EntityManager): Promise<{ id: string; name: string; content: EmailContent }[]> =>
  (await em.find(EmailTemplate, {}, { orderBy: { name: 1 } })).map(({ id, name, content }) => ({ id, name, content }));

/** Keeps an email's draft under a name, as a template for every launch. Later changes of the email do not change it. */
export const keepEmailTemplate = async (
  em: EntityManager,
  user: DeskUser,
  context: LaunchContext,
  key: string,
  name: string,
  now: Date,
): Promise<{ id: string }> => {
  mustBeAllowed(user, "launch.edit");
  const id = randomUUID();
  const { draft } = emailDraft(context, key);
  try {
    await em.insert(EmailTemplate, { id, name, content: draft, createdAt: now, userId: user.id });
  } catch (error) {
    if (error instanceof Error && error.name === "UniqueConstraintViolationException")
      throw wrongField("nothing_saved", "name", { code: "template_name_taken" });
    throw error;
  }
  return { id };
};

/** Throws a template away; emails that were begun from it stay. */
export const dropEmailTemplate = async (em: EntityManager, user: DeskUser, id: string): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  required(await em.findOne(EmailTemplate, { id }), "template");
  await em.nativeDelete(EmailTemplate, { id });
};
