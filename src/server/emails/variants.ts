import { mayVary, variantKey } from "../../core/emails";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { addEmailVariant, removeEmailVariant, weighEmailVariants } from "../../store/emails/emailVariants";
import { launchChanged, mustNotBeArchived, type LaunchContext } from "../launch";
import { mustBeAllowed, Refusal, required } from "../platform";
import { kindOfKey } from "./contents";
import { emailDraft } from "./draftEmail";

const mustVary = (context: LaunchContext, key: string): void => {
  mustNotBeArchived(context.launch);
  const kind = required(kindOfKey(context, key), "email");
  if (!mayVary(kind) || key === variantKey(key)) throw new Refusal({ code: "not_found", what: "email" });
};

/** Adds a second variant of an email, which begins as the first one stands. It goes to nobody before it is published. */
export const addVariant = async (em: EntityManager, user: DeskUser, context: LaunchContext, key: string): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  mustVary(context, key);
  const { draft } = emailDraft(context, key);
  await em.transactional(async (tx) => {
    if (!(await addEmailVariant(tx, context.launch.id, key, draft))) throw new Refusal({ code: "changed_meanwhile", what: "email" });
    await launchChanged(tx);
  });
};

/** Removes the second variant of an email: from now on everybody gets the first. What has been sent of it stays counted. */
export const removeVariant = async (em: EntityManager, user: DeskUser, context: LaunchContext, key: string): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  mustVary(context, key);
  await em.transactional(async (tx) => {
    await removeEmailVariant(tx, context.launch.id, key);
    await launchChanged(tx);
  });
};

/** Says how many of its readers in a hundred get the second variant of an email. */
export const weighVariant = async (em: EntityManager, user: DeskUser, context: LaunchContext, key: string, second: number): Promise<void> => {
  mustBeAllowed(user, "launch.edit");
  mustVary(context, key);
  required(context.emails.get(variantKey(key)), "email");
  await em.transactional(async (tx) => {
    await weighEmailVariants(tx, context.launch.id, key, second);
    await launchChanged(tx);
  });
};
