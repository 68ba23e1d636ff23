import type { ReceiptFacts } from "../receipt";
import type { FieldValues } from "./mergeFields";

/** All that an email says of its reader at the moment at which it goes. */
export interface EmailFacts {
  fields: FieldValues;
  /** Where the email's own next step leads: a whole address. */
  next: string;
  /** Makes links to pages of the launch know the reader's clock. */
  token: string;
  /** The reader's own deadline as a picture, with the same in words for who sees none. */
  countdown?: { src: string; says: string };
  /** What the form promised. */
  gift?: { name: string; href: string };
  receipt?: ReceiptFacts;
  /** The word of the partner who sent them. */
  partner?: { name: string; note: string };
  /** Opens their library without a password; undefined where they have nothing there. */
  library?: string;
}
