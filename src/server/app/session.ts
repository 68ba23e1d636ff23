import { hash, verify } from "@node-rs/argon2";
import { createHash, randomBytes } from "node:crypto";
import { DeskUser, Partner, Session } from "../../store/entities";
import type { EntityManager } from "../../store/orm";
import type { App } from "./app";
import { limit } from "./rateLimit";
import { Refusal } from "./refusal";

export type SessionKind = "desk" | "partner";
const days = 14;
const hashOf = (token: string) => createHash("sha256").update(token).digest("hex");

export const hashPassword = (password: string): Promise<string> => hash(password);

let decoy: Promise<string> | undefined;

/** Signs in and answers the session token. The refusal is the same whether the address or the password is wrong. */
export const signIn = async (app: App, em: EntityManager, kind: SessionKind, email: string, password: string, from: string): Promise<string> => {
  await limit(em, app.clock.now(), `sign-in:${kind}:${from}:${email.trim().toLowerCase()}`, 10, 300);
  const where = { email: email.trim().toLowerCase() };
  const subject = kind === "desk" ? await em.findOne(DeskUser, where) : await em.findOne(Partner, where);
  // A wrong address takes as long as a wrong password.
  const stored = subject?.passwordHash ?? (await (decoy ??= hash(randomBytes(16).toString("hex"))));
  if (!(await verify(stored, password)) || !subject) {
    throw new Refusal(422, "wrong_login", "Address and password do not belong together.", {
      password: "Address and password do not belong together.",
    });
  }
  const token = randomBytes(32).toString("base64url");
  const now = app.clock.now();
  await em.insert(Session, {
    tokenHash: hashOf(token),
    kind,
    subjectId: subject.id,
    createdAt: now,
    expiresAt: new Date(now.getTime() + days * 86_400_000),
  });
  return token;
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

/** Refuses who may only look. */
export const mustWrite = (user: DeskUser, roles: DeskUser["role"][] = ["owner", "editor"]): void => {
  if (!roles.includes(user.role)) throw new Refusal(403, "role", `Signed in as ${user.role}: this needs ${roles.join(" or ")}.`);
};
