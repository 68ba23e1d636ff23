import { lockName } from "../../store/platform/locks";
import { verify } from "@node-rs/argon2";
import { createHash } from "node:crypto";
import type { z } from "zod";
import { linkHolds, type ownPasswordRequest } from "../../core/settings";
import { normaliseEmail } from "../../core/people";
import { proveInbox } from "../../store/people/proveInbox";
import { Contact, DeskUser, Partner } from "../../store/tables";
import type { EntityManager } from "../../store/orm";
import {
  type App,
  Refusal,
  type SessionKind,
  beginSession,
  endSessions,
  hashPassword,
  limit,
  mustBeAllowed,
  mustBePassword,
  queue,
  readLink,
  signLink,
  wrongField,
} from "../platform";

/** Somebody who signs in somewhere, as far as their password goes. */
export interface Account {
  id: string;
  email: string;
  name: string;
  passwordHash: string;
}

const accountBy = async (em: EntityManager, kind: SessionKind, where: { id: string } | { email: string }): Promise<Account | undefined> => {
  if (kind === "desk") return (await em.findOne(DeskUser, { ...where, endedAt: null })) ?? undefined;
  if (kind === "partner") return (await em.findOne(Partner, where)) ?? undefined;
  const contact = await em.findOne(Contact, { ...where, test: false });
  return contact ? { id: contact.id, email: contact.email, name: contact.firstName, passwordHash: contact.passwordHash ?? "" } : undefined;
};

/** What changes with a password: a link that was made for one opens nothing once there is another. */
const printOf = (passwordHash: string): string => createHash("sha256").update(passwordHash).digest("hex").slice(0, 16);

/**
 * Sends a link to choose a new password to an address that has an account, at most once a minute. What is answered is the
 * same where it has none.
 */
export const askForNewPassword = async (app: App, em: EntityManager, kind: SessionKind, typed: string, from: string): Promise<void> => {
  const now = app.clock.now();
  const email = normaliseEmail(typed).slice(0, 254);
  await limit(em, now, `password:${kind}:${from}`, 20, 900);
  await limit(em, now, `password:${kind}:${email}`, 10, 3_600);
  const account = await accountBy(em, kind, { email });
  if (!account) return;
  const key = `password:${kind}:${account.id}:${Math.floor(now.getTime() / 60_000)}`;
  const topic = ({ desk: "send_desk_password", partner: "send_partner_password", buyer: "send_buyer_password" } as const)[kind];
  await em.transactional((tx) => queue(tx, topic, { id: account.id }, now, key));
};

const pages = { desk: "/desk/new-password", partner: "/partner/new-password", buyer: "/library/new-password" } as const;

/** Where somebody chooses a new password, for a day or until they have. Undefined where the account is gone. */
export const newPasswordLink = async (app: App, kind: SessionKind, id: string): Promise<{ to: Account; href: string } | undefined> => {
  const account = await accountBy(app.fork(), kind, { id });
  if (!account) return undefined;
  const { origin, INKBELL_SECRET } = app.config;
  const subject = `${kind}:${id}:${printOf(account.passwordHash)}`;
  const token = signLink(INKBELL_SECRET, "new_password", subject, app.clock.now(), linkHolds.newPassword);
  return { to: account, href: `${origin}${pages[kind]}?t=${token}` };
};

/** Sets a password by the link of an email, ends every session there was, and answers the token of a new one. The link holds once. */
export const chooseNewPassword = async (app: App, kind: SessionKind, token: string | null, password: string, agent: string): Promise<string> => {
  const now = app.clock.now();
  const [of, id, print] = (readLink(app.config.INKBELL_SECRET, "new_password", token, now) ?? "").split(":");
  const over = () => new Refusal({ code: "link_over", to: "password" });
  if (of !== kind || !id) throw over();
  mustBePassword(password);
  const passwordHash = await hashPassword(password);
  return app.fork().transactional(async (tx) => {
    await lockName(tx, `password of ${id}`);
    const account = await accountBy(tx, kind, { id });
    if (!account || printOf(account.passwordHash) !== print) throw over();
    if (kind === "desk") await tx.nativeUpdate(DeskUser, { id }, { passwordHash });
    else if (kind === "partner") await tx.nativeUpdate(Partner, { id }, { passwordHash });
    // Whoever reads the address's mail has proven it.
    else {
      await tx.nativeUpdate(Contact, { id }, { passwordHash });
      await proveInbox(tx, id, now);
    }
    await endSessions(tx, kind, id, { butToken: undefined });
    return beginSession(tx, kind, id, now, agent);
  });
};

/** Changes one's own password at the desk. Every other session ends; answers the token of a new one in place of this. */
export const changeOwnPassword = async (
  app: App,
  em: EntityManager,
  user: DeskUser,
  { present, password }: z.infer<typeof ownPasswordRequest>,
  agent: string,
): Promise<string> => {
  mustBeAllowed(user, "account.edit");
  const now = app.clock.now();
  await limit(em, now, `own password:${user.id}`, 10, 900);
  if (!(await verify(user.passwordHash, present))) throw wrongField("nothing_changed", "present", { code: "not_the_present_password" });
  const passwordHash = await hashPassword(password);
  return em.transactional(async (tx) => {
    await tx.nativeUpdate(DeskUser, { id: user.id }, { passwordHash });
    await endSessions(tx, "desk", user.id, { butToken: undefined });
    return beginSession(tx, "desk", user.id, now, agent);
  });
};
