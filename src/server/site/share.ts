import type { SeenAs } from "../../core/launch";
import { Page, type DeskUser } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import { type App, mustBeAllowed, readLink, required, signLink } from "../platform";
import { previewDraft, type Preview } from "./preview";

/** A shared preview is open for so long. */
export const shareDays = 14;

/** A private address at which anyone who has it sees a page's draft as it then stands, for two weeks. Nothing can be sent from there. */
export const sharePreview = async (app: App, em: EntityManager, user: DeskUser, pageId: string, now: Date): Promise<string> => {
  mustBeAllowed(user, "page.share");
  const page = required(await em.findOne(Page, { id: pageId }), "page");
  return `${app.config.origin}/preview/${signLink(app.config.INKBELL_SECRET, "preview", page.id, now, shareDays)}`;
};

/** The draft behind a shared address; undefined where the address is not ours or its time is over. */
export const sharedPreview = async (app: App, em: EntityManager, token: string | undefined): Promise<Preview | undefined> => {
  const now = app.clock.now();
  const id = readLink(app.config.INKBELL_SECRET, "preview", token ?? null, now);
  const everyone: SeenAs = { kind: "everyone" };
  return id ? previewDraft(app, em, id, everyone, now) : undefined;
};
