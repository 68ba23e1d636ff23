import type { SessionsRequest } from "../../core/settings";
import type { DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { endSessions, mustBeAllowed, sessionsOf } from "../platform";

/** One of one's own sessions, as the desk lists it. */
export interface SessionRow {
  id: string;
  device: string;
  createdAt: Date;
  seenAt: Date;
  here: boolean;
}

/** Where somebody of the team is signed in, the session last used first. */
export const ownSessions = async (em: EntityManager, user: DeskUser, token: string | undefined, now: Date): Promise<SessionRow[]> => {
  mustBeAllowed(user, "account.edit");
  return (await sessionsOf(em, "desk", user.id, token, now)).map((one) => ({
    ...one,
    createdAt: one.createdAt,
    seenAt: one.seenAt,
  }));
};

/** Ends sessions of one's own: one, or all but the one that asks. */
export const endOwnSessions = async (em: EntityManager, user: DeskUser, request: SessionsRequest, token: string | undefined): Promise<void> => {
  mustBeAllowed(user, "account.edit");
  await endSessions(em, "desk", user.id, request.do === "end" ? { id: request.id } : { butToken: token });
};
