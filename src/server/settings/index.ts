/** The vendor, the team and their passwords, sessions, and how long things are kept. */

export { sendInvitation, sendNewPassword } from "./emails";
export { makeFirstOwner, mustBeWayIn } from "./firstOwner";
export { takeEntry, takeForgotten, takeNewPassword } from "./forms";
export { changeOwnPassword } from "./passwords";
export { changeRetention } from "./retention";
export { endOwnSessions, ownSessions } from "./sessions";
export { changeMembership, endInvitation, invitationOf, invite, joinTeam, teamOf } from "./team";
export { changeSigning, signingOf, type Signing } from "./dkim";
export { changeSendingLimits } from "./sending";
export { changeVendor, vendorVersion } from "./vendor";
