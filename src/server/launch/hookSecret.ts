import { Launch, type DeskUser } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import { required } from "../app/refusal";
import { mustBeAllowed } from "../app/access";
import { newHookSecret } from "./createLaunch";

/** The secret that signs a launch's inbound notices, for who may change the launch; made anew where asked, which ends the old one at once. */
export const hookSecret = async (em: EntityManager, user: DeskUser, slug: string | undefined, renew: boolean): Promise<string> => {
  mustBeAllowed(user, "launch.secret");
  const launch = required(await em.findOne(Launch, { slug: slug ?? "" }), "launch");
  if (!renew) return launch.hookSecret;
  const fresh = newHookSecret();
  await em.nativeUpdate(Launch, { id: launch.id }, { hookSecret: fresh });
  return fresh;
};
