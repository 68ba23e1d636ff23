import { z } from "zod";
import { roles, type Role } from "../access";
import { country, email, firstName } from "../people";
import { vendorName } from "./vendor";

/** What each role is for, beside its name where one is chosen. */
export const roleWords: Record<Role, string> = {
  owner: "everything, the team and the vendor's details among it",
  editor: "launches, pages, products, offers and partners; no refunds, no tax",
  finance: "orders, refunds, tax and money; changes no page",
  viewer: "looks at everything, changes nothing",
};

/** How long an invitation, a way in and a link to a new password hold, in days. */
export const linkHolds = { invitation: 7, wayIn: 1, newPassword: 1 } as const;

export const password = z.string().min(10).max(200);

/** What the desk sends to invite somebody. */
export const invitationRequest = z.object({ email, role: z.enum(roles) });
export type InvitationRequest = z.infer<typeof invitationRequest>;

/** What somebody gives who takes up an invitation. */
export const memberRequest = z.object({ name: firstName, password });

/** What the first owner gives: who they are, and whose desk it is. */
export const firstOwnerRequest = memberRequest.extend({ vendor: vendorName, country, email });

/** What changes a membership: another role, or its end. */
export const membershipRequest = z.discriminatedUnion("do", [
  z.object({ do: z.literal("role"), role: z.enum(roles) }),
  z.object({ do: z.literal("end") }),
]);
export type MembershipRequest = z.infer<typeof membershipRequest>;

/** Why a membership cannot be changed so: without an owner, nobody could bring one back. */
export type MembershipRefusal = { code: "last_owner" };

/** Whether a change leaves an owner. `members` are those whose membership lasts. */
export const membershipRefusal = (
  members: readonly { id: string; role: Role }[],
  id: string,
  change: MembershipRequest,
): MembershipRefusal | undefined => {
  const owners = members.filter((one) => (one.id === id ? change.do === "role" && change.role === "owner" : one.role === "owner"));
  return owners.length === 0 ? { code: "last_owner" } : undefined;
};

/** What ends sessions of one's own: one of them, or all but the one that asks. */
export const sessionsRequest = z.discriminatedUnion("do", [
  z.object({ do: z.literal("end"), id: z.uuid() }),
  z.object({ do: z.literal("end_others") }),
]);
export type SessionsRequest = z.infer<typeof sessionsRequest>;

/** What changes one's own password. The present one is asked, so that an open browser is not enough. */
export const ownPasswordRequest = z.object({ present: z.string(), password });
