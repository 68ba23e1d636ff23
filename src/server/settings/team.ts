import { lockName } from "../../store/platform/locks";
import { randomUUID } from "node:crypto";
import type { z } from "zod";
import { linkHolds, membershipRefusal, type InvitationRequest, type memberRequest, type MembershipRequest } from "../../core/settings";
import { DeskUser, Invitation } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, Refusal, beginSession, endSessions, hashPassword, mustBeAllowed, queue, readLink, required, wrongField } from "../platform";

/** Somebody of the team, as the desk lists them. */
export interface Member {
  id: string;
  name: string;
  email: string;
  role: DeskUser["role"];
  /** When the membership ended, if it did. */
  endedAt: Date | null;
}

/** An invitation that waits to be taken up. */
export interface OpenInvitation {
  id: string;
  email: string;
  role: DeskUser["role"];
  by: string;
  expiresAt: Date;
}

/** The team: who belongs to it, who did, and who is invited. */
export const teamOf = async (em: EntityManager, now: Date): Promise<{ members: Member[]; invitations: OpenInvitation[] }> => {
  const users = await em.find(DeskUser, {}, { orderBy: { name: 1 } });
  const open = await em.find(Invitation, { endedAt: null, expiresAt: { $gt: now } }, { orderBy: { at: 1 } });
  return {
    members: users.map(({ id, name, email, role, endedAt }) => ({ id, name, email, role, endedAt: endedAt ?? null })),
    invitations: open.map(({ id, email, role, invitedBy, expiresAt }) => ({
      id,
      email,
      role,
      by: users.find((one) => one.id === invitedBy)?.name ?? "",
      expiresAt,
    })),
  };
};

/** Invites somebody by an email with a link. Invited again, the newer invitation holds. */
export const invite = async (em: EntityManager, user: DeskUser, { email, role }: InvitationRequest, now: Date): Promise<void> => {
  mustBeAllowed(user, "team.edit");
  await em.transactional(async (tx) => {
    if (await tx.findOne(DeskUser, { email, endedAt: null })) throw wrongField("nobody_invited", "email", { code: "member_already" });
    await tx.nativeUpdate(Invitation, { email, endedAt: null }, { endedAt: now });
    const id = randomUUID();
    await tx.insert(Invitation, {
      id,
      email,
      role,
      invitedBy: user.id,
      at: now,
      endedAt: null,
      expiresAt: new Date(now.getTime() + linkHolds.invitation * 86_400_000),
    });
    await queue(tx, "send_invitation", { id }, now, `invitation:${id}`);
  });
};

/** Takes an invitation back: its link opens nothing any more. */
export const endInvitation = async (em: EntityManager, user: DeskUser, id: string, now: Date): Promise<void> => {
  mustBeAllowed(user, "team.edit");
  required((await em.nativeUpdate(Invitation, { id, endedAt: null }, { endedAt: now })) || undefined, "invitation");
};

/** The invitation of a link, while it holds. */
export const invitationOf = async (app: App, em: EntityManager, token: string | null): Promise<Invitation> => {
  const now = app.clock.now();
  const id = readLink(app.config.INKBELL_SECRET, "invitation", token, now);
  const invitation = id ? await em.findOne(Invitation, { id, endedAt: null, expiresAt: { $gt: now } }) : null;
  if (!invitation) throw new Refusal({ code: "link_over", to: "invitation" });
  return invitation;
};

/** Takes an invitation up: whoever opened its link belongs to the team, and is signed in. Answers the session's token. */
export const joinTeam = async (app: App, token: string | null, { name, password }: z.infer<typeof memberRequest>, agent: string): Promise<string> => {
  const passwordHash = await hashPassword(password);
  const now = app.clock.now();
  return app.fork().transactional(async (tx) => {
    const { id, email, role } = await invitationOf(app, tx, token);
    if ((await tx.nativeUpdate(Invitation, { id, endedAt: null }, { endedAt: now })) === 0) throw new Refusal({ code: "invitation_taken" });
    // Who belonged to the team before comes back as themself: what they made is still theirs.
    const known = await tx.findOne(DeskUser, { email });
    const member = { name, role, passwordHash, endedAt: null };
    const userId = known?.id ?? randomUUID();
    if (known) await tx.nativeUpdate(DeskUser, { id: known.id }, member);
    else await tx.insert(DeskUser, { id: userId, email, ...member });
    return beginSession(tx, "desk", userId, now, agent);
  });
};

/** Gives somebody another role, or ends their membership with all their sessions. The last owner stays. */
export const changeMembership = async (em: EntityManager, user: DeskUser, id: string, change: MembershipRequest, now: Date): Promise<void> => {
  mustBeAllowed(user, "team.edit");
  await em.transactional(async (tx) => {
    // One change at a time: two owners who remove one another would leave none.
    await lockName(tx, "team");
    const members = await tx.find(DeskUser, { endedAt: null });
    required(
      members.find((one) => one.id === id),
      "person",
    );
    if (membershipRefusal(members, id, change)) throw new Refusal({ code: "last_owner" });
    await tx.nativeUpdate(DeskUser, { id }, change.do === "role" ? { role: change.role } : { endedAt: now });
    if (change.do === "end") await endSessions(tx, "desk", id, { butToken: undefined });
  });
};
