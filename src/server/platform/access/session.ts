import { hash, verify } from "@node-rs/argon2";
import Bowser from "bowser";
import { createHash, randomBytes, randomUUID } from "node:crypto";
import { DeskUser, Partner, Session } from "../../../store/tables";
import { contactByEmail } from "../../../store/people/persons";
import type { EntityManager } from "../../../store/orm";
import type { App } from "../app";
import { signInRules } from "../../../core/access";
import { countTry, forgive } from "./rateLimit";
import { Refusal, wrongField } from "../refusal";

export type SessionKind = "desk" | "partner" | "buyer";
/** How long whoever signs in stays so. */
export const sessionDays = 14;
const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

export const hashPassword = (password: string): Promise<string> => hash(password);

/** Refuses a password that is too short to keep, or too long to be one. */
export const mustBePassword = (password: string): void => {
  if (password.length < 10) throw wrongField("nothing_changed", "password", { code: "too_short", least: 10 });
  if (password.length > 200) throw wrongField("nothing_changed", "password", { code: "too_long", most: 200 });
};

let decoy: Promise<string> | undefined;

const subjectOf = (em: EntityManager, kind: SessionKind, email: string): Promise<{ id: string; passwordHash?: string | null } | null> => {
  if (kind === "desk") return em.findOne(DeskUser, { email, endedAt: null });
  return kind === "partner" ? em.findOne(Partner, { email }) : contactByEmail(em, email);
};

/** Begins a session and answers its token, of which only the hash is kept. `agent` is what the browser says of itself. */
export const beginSession = async (em: EntityManager, kind: SessionKind, subjectId: string, now: Date, agent = ""): Promise<string> => {
  const token = randomBytes(32).toString("base64url");
  await em.insert(Session, {
    tokenHash: hashOf(token),
    id: randomUUID(),
    kind,
    subjectId,
    createdAt: now,
    expiresAt: new Date(now.getTime() + sessionDays * 86_400_000),
    seenAt: now,
    device: deviceWords(agent),
  });
  return token;
};

/** `Firefox on Linux`: a browser and its system in words, from its User-Agent; empty where it says nothing. */
export const deviceWords = (agent: string): string => {
  if (!agent) return "";
  const { browser, os } = Bowser.parse(agent.slice(0, 500));
  return [browser.name, os.name && `on ${os.name}`].filter(Boolean).join(" ").slice(0, 120);
};

/** Signs in and answers the session token. The refusal is the same whether the address or the password is wrong. */
export const signIn = async (
  app: App,
  em: EntityManager,
  kind: SessionKind,
  email: string,
  password: string,
  from: string,
  agent = "",
): Promise<string> => {
  const account = email.trim().toLowerCase().slice(0, 254);
  const { here, account: anyone, address } = signInRules;
  const own = `wrong:${kind}:${account}:${from}`;
  const tries = [
    { key: own, rule: here },
    { key: `wrong:${kind}:${account}`, rule: anyone },
    { key: `wrong:${kind}:from:${from}`, rule: address },
  ];
  await countTry(em, app.clock.now(), tries, "password");
  const subject = await subjectOf(em, kind, account);
  // A wrong address takes as long as a wrong password.
  const stored = subject?.passwordHash ?? (await (decoy ??= hash(randomBytes(16).toString("hex"))));
  if (!(await verify(stored, password)) || !subject?.passwordHash) {
    throw new Refusal({ code: "wrong_login" }, { password: { code: "wrong_login" } });
  }
  await forgive(em, [own, `wrong:${kind}:${account}`]);
  return beginSession(em, kind, subject.id, app.clock.now(), agent);
};

/** How exactly it is known when a session was last used: writing each time would cost a write a request. */
const seenEveryMs = 5 * 60_000;

/** The id of who is signed in with this token, or undefined. */
export const sessionSubject = async (em: EntityManager, kind: SessionKind, token: string | undefined, now: Date): Promise<string | undefined> => {
  if (!token) return undefined;
  const session = await em.findOne(Session, { tokenHash: hashOf(token), kind, expiresAt: { $gt: now } });
  if (session && now.getTime() - session.seenAt.getTime() > seenEveryMs) await em.nativeUpdate(Session, { id: session.id }, { seenAt: now });
  return session?.subjectId;
};

/** One of somebody's sessions, as they see them. */
export interface OwnSession {
  id: string;
  device: string;
  createdAt: Date;
  seenAt: Date;
  /** Whether it is the one that asks. */
  here: boolean;
}

/** The sessions of whoever is signed in, the one last used first. */
export const sessionsOf = async (
  em: EntityManager,
  kind: SessionKind,
  subjectId: string,
  token: string | undefined,
  now: Date,
): Promise<OwnSession[]> => {
  const own = token ? hashOf(token) : "";
  const sessions = await em.find(Session, { kind, subjectId, expiresAt: { $gt: now } }, { orderBy: { seenAt: -1 } });
  return sessions.map(({ id, device, createdAt, seenAt, tokenHash }) => ({ id, device, createdAt, seenAt, here: tokenHash === own }));
};

/** Ends sessions of somebody: one by its id, or all but the one that asks. */
export const endSessions = async (
  em: EntityManager,
  kind: SessionKind,
  subjectId: string,
  which: { id: string } | { butToken: string | undefined },
): Promise<number> =>
  "id" in which
    ? em.nativeDelete(Session, { kind, subjectId, id: which.id })
    : em.nativeDelete(Session, { kind, subjectId, ...(which.butToken ? { tokenHash: { $ne: hashOf(which.butToken) } } : {}) });

export const signOut = async (em: EntityManager, token: string | undefined): Promise<void> => {
  if (token) await em.nativeDelete(Session, { tokenHash: hashOf(token) });
};
