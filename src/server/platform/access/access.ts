import { can, whoMay, type Permission } from "../../../core/access";
import type { Contact, DeskUser, Partner } from "../../../store/tables";
import { Refusal } from "../refusal";

interface Visit {
  locals: { user?: DeskUser; partner?: Partner; buyer?: Contact };
}

/** Refuses who may not do something; the refusal names the permission and the roles that have it. Every use case of the desk asks first. */
export const mustBeAllowed = (user: Pick<DeskUser, "role">, permission: Permission): void => {
  if (!can(user, permission)) throw new Refusal({ code: "not_allowed", role: user.role, permission, may: whoMay(permission) });
};

/** Who is signed in at the desk and may do something; refused otherwise. Screens and endpoints of the desk begin with it. */
export const deskUser = ({ locals }: Visit, permission: Permission = "desk.view"): DeskUser => {
  if (!locals.user) throw new Refusal({ code: "signed_out", at: "desk" });
  mustBeAllowed(locals.user, permission);
  return locals.user;
};

/** The partner who is signed in to the portal; refused where there is none. */
export const portalPartner = ({ locals }: Visit): Partner => {
  if (!locals.partner) throw new Refusal({ code: "signed_out", at: "partner" });
  return locals.partner;
};

/** The buyer who is signed in to their library; refused where there is none. */
export const libraryBuyer = ({ locals }: Visit): Contact => {
  if (!locals.buyer) throw new Refusal({ code: "signed_out", at: "library" });
  return locals.buyer;
};
