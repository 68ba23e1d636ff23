import { hash, verify } from "@node-rs/argon2";
import { createHash, randomBytes } from "node:crypto";
import { Contact, DeskUser, Partner, Session } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "./app";
import { signInRules } from "../../core/access";
import { countTry, forgive } from "./rateLimit";
import { Refusal } from "./refusal";

export type SessionKind = "desk" | "partner" | "buyer";
/** How long whoever signs in stays so. */
export const sessionDays = 14;
const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

export const hashPassword = (password: string): Promise<string> => hash(password);

/** Refuses a password that is too short to keep, or too long to be one. */
export const mustBePassword = (password: string): void => {
  const wrong = password.length < 10 ? "Ten characters at least." : password.length > 200 ? "200 characters at most." : undefined;
  if (wrong) throw new Refusal(422, "fields", wrong, { password: wrong });
};

let decoy: Promise<string> | undefined;

const subjectOf = (em: EntityManager, kind: SessionKind, email: string): Promise<{ id: string; passwordHash?: string | null } | null> => {
  if (kind === "desk") return em.findOne(DeskUser, { email });
  return kind === "partner" ? em.findOne(Partner, { email }) : em.findOne(Contact, { email, test: false });
};

/** Begins a session and answers its token, of which only the hash is kept. */
export const beginSession = async (em: EntityManager, kind: SessionKind, subjectId: string, now: Date): Promise<string> => {
  const token = randomBytes(32).toString("base64url");
  await em.insert(Session, {
    tokenHash: hashOf(token),
    kind,
    subjectId,
    createdAt: now,
    expiresAt: new Date(now.getTime() + sessionDays * 86_400_000),
  });
  return token;
};

/** Signs in and answers the session token. The refusal is the same whether the address or the password is wrong. */
export const signIn = async (app: App, em: EntityManager, kind: SessionKind, email: string, password: string, from: string): Promise<string> => {
  const account = email.trim().toLowerCase().slice(0, 254);
  const { here, account: anyone, address } = signInRules;
  const own = `wrong:${kind}:${account}:${from}`;
  const tries = [
    { key: own, rule: here },
    { key: `wrong:${kind}:${account}`, rule: anyone },
    { key: `wrong:${kind}:from:${from}`, rule: address },
  ];
  await countTry(em, app.clock.now(), tries, "Too many wrong passwords.");
  const subject = await subjectOf(em, kind, account);
  // A wrong address takes as long as a wrong password.
  const stored = subject?.passwordHash ?? (await (decoy ??= hash(randomBytes(16).toString("hex"))));
  if (!(await verify(stored, password)) || !subject?.passwordHash) {
    throw new Refusal(422, "wrong_login", "Address and password do not belong together.", {
      password: "Address and password do not belong together.",
    });
  }
  await forgive(em, [own, `wrong:${kind}:${account}`]);
  return beginSession(em, kind, subject.id, app.clock.now());
};

/** The id of who is signed in with this token, or undefined. */
export const sessionSubject = async (em: EntityManager, kind: SessionKind, token: string | undefined, now: Date): Promise<string | undefined> => {
  if (!token) return undefined;
  const session = await em.findOne(Session, { tokenHash: hashOf(token), kind, expiresAt: { $gt: now } });
  return session?.subjectId;
};

export const signOut = async (em: EntityManager, token: string | undefined): Promise<void> => {
  if (token) await em.nativeDelete(Session, { tokenHash: hashOf(token) });
};
