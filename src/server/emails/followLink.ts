import { createHmac, timingSafeEqual } from "node:crypto";
import { linkName, type EmailKindName } from "../../core/emails";
import { hrefOf, target, type Target } from "../../core/pages";
import { noteClick, noteOpened, noteSeen } from "../../store/emails/clicks";
import { contactById } from "../../store/people/persons";
import { EmailMessage } from "../../store/tables";
import { launchesOf } from "../launch";
import { type App } from "../platform";
import type { Draft, EmailKind } from "./emailKind";
import { emailKinds } from "./kinds";
import { personLink } from "./personLink";

type Configured = Pick<App, "config">;

const packed = (id: string): string => Buffer.from(id.replaceAll("-", ""), "hex").toString("base64url");
const unpacked = (text: string): string | undefined =>
  /^[\w-]{22}$/.test(text)
    ? Buffer.from(text, "base64url")
        .toString("hex")
        .replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5")
    : undefined;

/** What only this installation can write under a link: no address of ours leads where somebody else wants. */
const sealOf = ({ config }: Configured, text: string): string =>
  createHmac("sha256", config.INKBELL_SECRET).update(`email link ${text}`).digest("base64url").slice(0, 16);

const sealed = (app: Configured, text: string): string => `${app.config.origin}/e/${text}.${sealOf(app, text)}`;

/** The address of a link of an email that was sent to somebody: it carries the email and where it leads, whatever becomes of the words it stands in. */
export const emailLink = (app: Configured, emailId: string, to: Target): string =>
  sealed(app, `${packed(emailId)}.${Buffer.from(JSON.stringify(to)).toString("base64url")}`);

/** The address of the picture by which an email that was sent to somebody tells that it was opened. */
export const openedPicture = (app: Configured, emailId: string): string => sealed(app, packed(emailId));

interface ReadLink {
  emailId: string;
  /** Where it leads; undefined of the picture. */
  to?: Target;
}

/** What an address of an email's says; undefined where it was made up or cut. */
export const readEmailLink = (app: Configured, token: string): ReadLink | undefined => {
  const [, text, id, leads, seal] = /^(([\w-]+)(?:\.([\w-]+))?)\.([\w-]{16})$/.exec(token) ?? [];
  if (!text || !seal || !timingSafeEqual(Buffer.from(seal), Buffer.from(sealOf(app, text)))) return undefined;
  const emailId = unpacked(id!);
  if (emailId === undefined) return undefined;
  if (leads === undefined) return { emailId };
  const to = target.safeParse(JSON.parse(Buffer.from(leads, "base64url").toString("utf8")));
  return to.success ? { emailId, to: to.data } : undefined;
};

type Place = Pick<Draft<EmailKindName>, "app" | "em" | "context" | "now">;

/** The address to which a link of an email leads now, known by its reader's clock; one whose page has moved, to where it is. */
const leadsTo = async (at: Place, email: EmailMessage, to: Target, token: string | undefined): Promise<string> => {
  const { app, context } = at;
  const { origin } = app.config;
  const known = (path: string) => (token ? `${path}${path.includes("?") ? "&" : "?"}k=${token}` : path);
  const home = `/l/${context.launch.slug}`;
  if (to.to === "outside") return to.url.startsWith(`${origin}/l/`) ? known(to.url.split("#")[0]!) : to.url;
  if (to.to === "library") return `${origin}/library`;
  if (to.to === "next") {
    const kind = emailKinds[email.kind] as EmailKind<EmailKindName>;
    return `${origin}${known((await kind.leadsTo?.({ ...at, email })) ?? home)}`;
  }
  return `${origin}${known(hrefOf(context.source, "", to) ?? home)}`;
};

export interface Followed {
  location: string;
  /** The click, for the browser to show with the page that it sees; undefined where nothing was noted. */
  clickId?: string;
}

/** Follows a link of an email: where it leads, with the click noted unless it is only looked at. Undefined where there is no such email any more. */
export const followLink = async (
  app: App,
  { emailId, to }: Required<ReadLink>,
  { passive, head }: { passive: boolean; head: boolean },
): Promise<Followed | undefined> => {
  const em = app.fork();
  const now = app.clock.now();
  const email = await em.findOne(EmailMessage, { id: emailId });
  const context = email && (await launchesOf(app).byId(email.launchId));
  if (!context) return undefined;
  const reader = await contactById(em, email.contactId);
  const token = reader && !reader.erasedAt ? personLink(app, reader.id) : undefined;
  const location = await leadsTo({ app, em, context, now }, email, to, token);
  if (head) return { location };
  // A file is no page: nothing of it says that it was seen.
  const toPage = to.to !== "calendar" && location.startsWith(`${app.config.origin}/l/`);
  const clickId = await noteClick(em, { emailId, link: linkName(to), machine: passive, toPage }, now);
  return toPage ? { location, clickId } : { location };
};

/** Notes that an email was opened, by its picture. */
export const emailOpened = (app: App, emailId: string): Promise<void> => noteOpened(app.fork(), emailId, app.clock.now());

/** Notes that a browser has seen the page to which a link of an email led. */
export const clickSeen = (app: App, clickId: string): Promise<void> => noteSeen(app.fork(), clickId, app.clock.now());
