import { type App, signLink } from "../platform";

/** A link token by which a launch's pages and images know the reader's clock. It lets nobody act as them. */
export const personLink = (app: App, contactId: string): string => signLink(app.config.INKBELL_SECRET, "person", contactId, app.clock.now(), 180);
