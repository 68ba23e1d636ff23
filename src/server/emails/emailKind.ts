import type { EmailData, EmailFacts, EmailKindName, QuietHours } from "../../core/emails";
import type { Viewer } from "../../core/launch";
import type { Contact, EmailMessage } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import type { LaunchContext } from "../launch";
import type { App } from "../platform";

/** What an email is made from. What not every kind needs is asked for when it is. */
export interface Draft<K extends EmailKindName> {
  app: App;
  em: EntityManager;
  /** The moment at which it goes, which is that of all it says. */
  now: Date;
  context: LaunchContext;
  email: Pick<EmailMessage, "dueAt" | "checkoutId">;
  data: EmailData[K];
  contact: Pick<Contact, "id" | "personId" | "firstName" | "consentAt" | "unsubscribedAt" | "zone" | "guessedZone">;
  /** Hours in which nobody gets mail that goes to many. */
  quiet: QuietHours | null;
  /** Whether they have bought in this launch. */
  bought: boolean;
  /** The clock as the reader knows it. */
  reader(this: void): Promise<Viewer>;
  /** Whether no seat is left for the reader. */
  soldOut(this: void): Promise<boolean>;
  /** A token by which the launch's pages and images know the reader's clock. It lets nobody act as them. */
  token: string;
}

/** What of an email is its kind's own; what every email may say of its reader is added to it. */
export interface KindFacts extends Omit<EmailFacts, "token" | "fields"> {
  fields?: EmailFacts["fields"];
  /** The reader's clock, where the kind has looked at it. */
  viewer?: Viewer;
  /** Whether no seat is left for the reader: then no deadline is theirs. */
  full?: boolean;
}

/** What an email says; or why it is not sent, or until when it waits. */
export type Composed =
  | {
      facts: KindFacts;
      /** The close that it leads up to: after it, it is of no use. */
      closes?: Date | undefined;
      /** An email that went before, by its id, which this one goes on from. */
      references?: string | undefined;
      /** Whether it is the last one before that. */
      lastCall?: boolean;
    }
  | { stop: string }
  | { waitUntil: Date; lastCall?: boolean };

/** How a kind of email is made, at the moment at which it goes. */
export interface EmailKind<K extends EmailKindName> {
  /** Advertising can be stopped by its reader, and says so; what someone asked for or paid for cannot. */
  advertising: boolean;
  /** The path of its own next step as it stands now, where that is not the launch's address. */
  leadsTo?(this: void, draft: Pick<Draft<K>, "app" | "em" | "context" | "email" | "now">): Promise<string>;
  /** Which of the launch's emails it is, by its key. */
  key(this: void, data: EmailData[K]): string;
  compose(this: void, draft: Draft<K>): Composed | Promise<Composed>;
}
