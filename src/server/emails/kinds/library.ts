import { libraryHref, linkDays } from "../../delivery";
import type { EmailKind } from "../emailKind";

export const library: EmailKind<"library"> = {
  advertising: false,
  key: () => "library",
  compose: ({ app, contact }) => ({ facts: { next: libraryHref(app, contact.id, linkDays.asked) } }),
};
