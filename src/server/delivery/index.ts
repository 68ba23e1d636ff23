/** What a buyer has: what is open to them and why, the library, and the way into it. */

export { accessOfPerson, grantable, grantAccess, ownedBy, revokeAccess } from "./access";
export {
  askForLibraryLink,
  buyerOf,
  endOwnRecurringPayment,
  libraryHref,
  libraryLinkOwner,
  libraryOf,
  linkDays,
  openLibrary,
  setBuyerPassword,
} from "./buyers";
