import { z } from "zod";
import { sendingLimits } from "../core/emails";
import { roles } from "../core/access";
import {
  invitationRequest,
  membershipRequest,
  ownPasswordRequest,
  retained,
  retentionRequest,
  sessionsRequest,
  vendorRequest,
  type Retained,
} from "../core/settings";
import { post } from "./endpoint";

const role = z.enum(roles);
const team = z.object({
  members: z.array(z.object({ id: z.string(), name: z.string(), email: z.string(), role, endedAt: z.coerce.date().nullable() })),
  invitations: z.array(z.object({ id: z.string(), email: z.string(), role, by: z.string(), expiresAt: z.coerce.date() })),
});
/** Who works at the desk, and who is invited. */
export type Team = z.output<typeof team>;

export const invite = post("settings/invite", { permission: "team.edit", request: invitationRequest, answer: team });
export const endInvitation = post("settings/invitations/[id]", {
  permission: "team.edit",
  request: z.object({ do: z.literal("end") }),
  answer: team,
});
export const changeMembership = post("settings/members/[id]", {
  refusals: ["last_owner"],
  permission: "team.edit",
  request: membershipRequest,
  answer: team,
});

const session = z.object({ id: z.string(), device: z.string(), createdAt: z.coerce.date(), seenAt: z.coerce.date(), here: z.boolean() });
/** Where somebody is signed in. */
export type SessionRow = z.output<typeof session>;
export const changeOwnPassword = post("settings/password", { permission: "account.edit", request: ownPasswordRequest });
export const endOwnSessions = post("settings/sessions", { permission: "account.edit", request: sessionsRequest, answer: z.array(session) });

export const changeVendor = post("settings/vendor", {
  refusals: ["changed_meanwhile"],
  permission: "vendor.edit",
  request: vendorRequest,
  answer: z.object({ version: z.number() }),
});
export const changeSendingLimits = post("settings/sending", {
  refusals: ["changed_meanwhile"],
  permission: "vendor.edit",
  request: z.object({ version: z.number().int().nonnegative(), limits: sendingLimits }),
  answer: z.object({ version: z.number() }),
});
export const changeSigning = post("settings/signing", {
  permission: "vendor.edit",
  request: z.discriminatedUnion("do", [
    z.object({ do: z.literal("make"), domain: z.string().max(253) }),
    z.object({ do: z.enum(["use", "end"]), selector: z.string().max(60) }),
  ]),
  answer: z.object({
    /** The domains that emails come from: the vendor's own first, then those of launches with a sender of their own. */
    domains: z.array(
      z.object({
        domain: z.string(),
        /** The launches that send from it; none for the vendor's own. */
        launches: z.array(z.string()),
        keys: z.array(
          z.object({
            selector: z.string(),
            madeAt: z.coerce.date(),
            usedSince: z.coerce.date().nullable(),
            record: z.object({ name: z.string(), value: z.string() }),
          }),
        ),
      }),
    ),
  }),
});
export const changeRetention = post("settings/retention", {
  permission: "vendor.edit",
  request: retentionRequest,
  answer: z.partialRecord(z.enum(Object.keys(retained) as [Retained, ...Retained[]]), z.number()),
});
