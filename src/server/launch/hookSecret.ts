import { randomBytes } from "node:crypto";
import { Launch, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed, required } from "../platform";

/** The secret of a launch's inbound notices, in the form of the Standard Webhooks specification. */
export const newHookSecret = (): string => `whsec_${randomBytes(24).toString("base64")}`;

/** The secret that signs a launch's inbound notices, for who may change the launch; made anew where asked, which ends the old one at once. */
export const hookSecret = async (em: EntityManager, user: DeskUser, slug: string | undefined, renew: boolean): Promise<string> => {
  mustBeAllowed(user, "launch.secret");
  const launch = required(await em.findOne(Launch, { slug: slug ?? "" }), "launch");
  if (!renew) return launch.hookSecret;
  const fresh = newHookSecret();
  await em.nativeUpdate(Launch, { id: launch.id }, { hookSecret: fresh });
  return fresh;
};
