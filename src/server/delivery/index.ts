/** What a buyer has: the library and the way into it. */

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
