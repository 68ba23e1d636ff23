import { notePresenceOn } from "../../store/pages/presence";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { mustBeAllowed } from "../platform";

/** Someone who is heard of no more for this long has left. */
const goneAfterMs = 25_000;

/** Says that somebody has a page open in the editor, and answers who else has, with the version that is stored. */
export const notePresence = async (em: EntityManager, user: DeskUser, pageId: string, now: Date): Promise<{ others: string[]; version: number }> => {
  mustBeAllowed(user, "page.edit");
  return notePresenceOn(em, pageId, user.id, now, new Date(now.getTime() - goneAfterMs));
};
