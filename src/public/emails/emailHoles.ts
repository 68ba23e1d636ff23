import { textParts, type FieldPart } from "../../core/emails";
import type { Target } from "../../core/pages";
import type { HoleBook } from "../html";

/** What of an email is there for some readers only. */
export type EmailPresence = "countdown" | "gift" | "partner" | "library" | "opened";

/** A place of an email that is filled for each reader. */
export type EmailHole =
  | ({ is: "field" } & FieldPart)
  /** Where a button leads, or words in a text. */
  | { is: "href"; to: Target; on: "button" | "words" }
  | { is: "countdown"; part: "src" | "says" }
  | { is: "gift"; part: "name" | "href" }
  | { is: "partner"; part: "name" | "note" }
  | { is: "receipt" }
  | { is: "unsubscribe" }
  /** The address of the picture that tells that the email was opened. */
  | { is: "opened" }
  /** From here to its end only where there is such a thing for the reader. */
  | { is: "begin"; has: EmailPresence }
  | { is: "end" };

export type EmailHoles = HoleBook<EmailHole>;

/** A text whose fields are places to be filled. */
export const withFields = (text: string, book: EmailHoles): string =>
  textParts(text)
    .map((part) => (typeof part === "string" ? part : book.mark({ is: "field", ...part }).text))
    .join("");
