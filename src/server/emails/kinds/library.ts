import { libraryWords } from "../../../core/emails";
import { libraryHref, linkDays } from "../../delivery";
import type { EmailKind } from "../emailKind";

export const library: EmailKind<"library"> = {
  advertising: false,
  compose: ({ app, contact, firstName }) => ({ words: libraryWords({ firstName, link: libraryHref(app, contact.id, linkDays.asked) }) }),
};
